#include "gas/pressure_rows.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "gas/pressure_rows.cpp"
#include <hwy/foreach_target.h>
// After foreach_target.h, as the library asks.
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace comet {
namespace HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

using Tag = hn::CappedTag<float, kPressureLanes>;
using Float = hn::Vec<Tag>;
using Which = hn::Mask<Tag>;
constexpr std::size_t kLanes = hn::MaxLanes(Tag());
constexpr std::size_t kVectors = kPressureLanes / kLanes;

HWY_INLINE Float load(const float* from) { return hn::LoadU(Tag(), from); }
HWY_INLINE Float sum(Float a, Float b) { return hn::Add(a, b); }

// The stencil of neighbouring voxels of a row whose faces are open in part.
class CutStencil {
 public:
  explicit CutStencil(const EquationRow& equations) : at_(equations) {}

  // The weighted sum of the six around; those to the left are given.
  HWY_INLINE Float neighbours(Float left, const float* p, std::size_t i) const {
    const float *x = at_.open[0] + i, *y = at_.open[1] + i, *z = at_.open[2] + i, *q = p + i;
    const auto through = [&](const float* open, std::size_t step, Float before) {
      return sum(hn::Mul(load(open), before), hn::Mul(load(open + step), load(q + step)));
    };
    return sum(sum(through(x, 1, left), through(y, at_.row, load(q - at_.row))),
               through(z, at_.plane, load(q - at_.plane)));
  }
  HWY_INLINE Float diagonal(std::size_t i) const {
    const float *x = at_.open[0] + i, *y = at_.open[1] + i, *z = at_.open[2] + i;
    return sum(sum(sum(load(x), load(x + 1)), sum(load(y), load(y + at_.row))),
               sum(load(z), load(z + at_.plane)));
  }
  HWY_INLINE Float inverse(std::size_t i) const { return load(at_.inverse + i); }

 private:
  const EquationRow& at_;
};

// The same where all six faces are open altogether.
class PlainStencil {
 public:
  explicit PlainStencil(const EquationRow& equations)
      : at_(equations),
        row_(equations.row),
        plane_(equations.plane),
        end_(equations.row - kPressureLanes),
        x_(hn::Set(Tag(), equations.whole[0])),
        y_(hn::Set(Tag(), equations.whole[1])),
        z_(hn::Set(Tag(), equations.whole[2])),
        diagonal_(hn::Set(Tag(), 2 * (equations.whole[0] + equations.whole[1] + equations.whole[2]))),
        inverse_(hn::Set(Tag(), equations.inverse[equations.row > 2 * kPressureLanes ? kPressureLanes : 1])) {
  }

  HWY_INLINE Float neighbours(Float left, const float* p, std::size_t i) const {
    const float* q = p + i;
    const auto beside = [q](std::size_t step) { return sum(load(q - step), load(q + step)); };
    return sum(sum(hn::Mul(x_, sum(left, load(q + 1))), hn::Mul(y_, beside(row_))),
               hn::Mul(z_, beside(plane_)));
  }
  HWY_INLINE Float diagonal(std::size_t) const { return diagonal_; }
  // Only at the ends are there voxels whose pressure is not sought.
  HWY_INLINE Float inverse(std::size_t i) const {
    return i < kPressureLanes || i >= end_ ? load(at_.inverse + i) : inverse_;
  }

 private:
  const EquationRow& at_;
  std::size_t row_, plane_, end_;
  Float x_, y_, z_, diagonal_, inverse_;
};

// Calls act(stencil) with that of a row.
template <typename Act>
HWY_INLINE void withStencil(const EquationRow& equations, const Act& act) {
  if (equations.isPlain)
    act(PlainStencil(equations));
  else
    act(CutStencil(equations));
}

// The lanes at odd places, or at even ones.
HWY_INLINE Which lanesAt(bool odd) {
  alignas(64) static constexpr std::array<float, kPressureLanes + 1> kPattern{1, 0, 1, 0, 1, 0, 1, 0, 1,
                                                                              0, 1, 0, 1, 0, 1, 0, 1};
  return hn::Gt(load(kPattern.data() + (odd ? 1 : 0)), hn::Zero(Tag()));
}

void SmoothRowKernel(const EquationRow& equations, const float* right, bool atOdd, float* pressure) {
  const Which solved = lanesAt(atOdd);
  withStencil(equations, [&](const auto& stencil) {
    // Before the vector before it is written: to read across its end then would wait for it. What it changes
    // is not asked for.
    Float left = load(pressure - 1);
    for (std::size_t i = 0; i < equations.row; i += kLanes) {
      const Float all = sum(load(right + i), stencil.neighbours(left, pressure, i));
      const Float found = hn::Mul(all, stencil.inverse(i));
      left = load(pressure + i + kLanes - 1);
      hn::StoreU(hn::IfThenElse(solved, found, load(pressure + i)), Tag(), pressure + i);
    }
  });
}

void SmoothRowFromZeroKernel(const EquationRow& equations, const float* right, bool atOdd, float* pressure) {
  const Which solved = lanesAt(atOdd);
  for (std::size_t i = 0; i < equations.row; i += kLanes)
    hn::StoreU(hn::IfThenElseZero(solved, hn::Mul(load(right + i), load(equations.inverse + i))), Tag(),
               pressure + i);
}

template <typename Stencil>
HWY_INLINE Float productAt(const Stencil& stencil, const float* pressure, std::size_t i) {
  const Which sought = hn::Gt(stencil.inverse(i), hn::Zero(Tag()));
  return hn::IfThenElseZero(sought, hn::Sub(hn::Mul(stencil.diagonal(i), load(pressure + i)),
                                            stencil.neighbours(load(pressure + i - 1), pressure, i)));
}

void ProductRowKernel(const EquationRow& equations, const float* pressure, float* product) {
  withStencil(equations, [&](const auto& stencil) {
    for (std::size_t i = 0; i < equations.row; i += kLanes)
      hn::StoreU(productAt(stencil, pressure, i), Tag(), product + i);
  });
}

void ResidualRowKernel(const EquationRow& equations, const float* pressure, const float* right,
                       const float* norm, float* residual) {
  withStencil(equations, [&](const auto& stencil) {
    for (std::size_t i = 0; i < equations.row; i += kLanes) {
      const Float left = hn::Sub(load(right + i), productAt(stencil, pressure, i));
      hn::StoreU(hn::Mul(left, load(norm + i)), Tag(), residual + i);
    }
  });
}

void MixRowsKernel(const float* const* rows, const float* weights, std::size_t rowCount, std::size_t count,
                   float* mixed) {
  for (std::size_t i = 0; i < count; i += kLanes) {
    Float all = hn::Zero(Tag());
    for (std::size_t row = 0; row < rowCount; ++row)
      all = sum(all, hn::Mul(hn::Set(Tag(), weights[row]), load(rows[row] + i)));
    hn::StoreU(all, Tag(), mixed + i);
  }
}

void HalveRowKernel(const float* fine, const float* inverse, std::size_t count, float* coarse) {
  const Float near = hn::Set(Tag(), 0.75F), far = hn::Set(Tag(), 0.25F);
  for (std::size_t i = 0; i < count; i += kLanes) {
    // The voxels 2 * i - 2 to 2 * i + 1 hang on the voxel i.
    Float a, b, c, e;
    hn::LoadInterleaved2(Tag(), fine + 2 * i - 2, a, b);
    hn::LoadInterleaved2(Tag(), fine + 2 * i, c, e);
    const Float all = sum(hn::Mul(far, sum(a, e)), hn::Mul(near, sum(b, c)));
    const Which sought = hn::Gt(load(inverse + i), hn::Zero(Tag()));
    hn::StoreU(hn::IfThenElseZero(sought, all), Tag(), coarse + i);
  }
}

void DoubleRowKernel(const float* coarse, std::size_t count, float* fine) {
  const Float near = hn::Set(Tag(), 0.75F), far = hn::Set(Tag(), 0.25F);
  for (std::size_t i = 0; i < count; i += kLanes) {
    const Float own = hn::Mul(near, load(coarse + i));
    hn::StoreInterleaved2(sum(own, hn::Mul(far, load(coarse + i - 1))),
                          sum(own, hn::Mul(far, load(coarse + i + 1))), Tag(), fine + 2 * i - 1);
  }
}

void AddToRowKernel(const float* norm, const float* more, std::size_t count, float* pressure) {
  for (std::size_t i = 0; i < count; i += kLanes)
    hn::StoreU(sum(load(pressure + i), hn::Mul(load(norm + i), load(more + i))), Tag(), pressure + i);
}

// In so many lanes of single precision for a row at a time, whatever the machine's vectors are.
double DotKernel(const float* a, const float* b, std::size_t count) {
  Float sums[kVectors];
  for (Float& each : sums) each = hn::Zero(Tag());
  for (std::size_t i = 0; i < count; i += kPressureLanes)
    for (std::size_t v = 0; v < kVectors; ++v) {
      const std::size_t at = i + v * kLanes;
      sums[v] = sum(sums[v], hn::Mul(load(a + at), load(b + at)));
    }
  alignas(64) float lanes[kPressureLanes];
  for (std::size_t v = 0; v < kVectors; ++v) hn::Store(sums[v], Tag(), lanes + v * kLanes);
  double all = 0;
  for (const float lane : lanes) all += static_cast<double>(lane);
  return all;
}

float LargestKernel(const float* values, std::size_t count) {
  Float max = hn::Zero(Tag());
  for (std::size_t i = 0; i < count; i += kLanes) max = hn::Max(max, hn::Abs(load(values + i)));
  return hn::GetLane(hn::MaxOfLanes(Tag(), max));
}

}  // namespace HWY_NAMESPACE
}  // namespace comet
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace comet {

HWY_EXPORT(SmoothRowKernel);
HWY_EXPORT(SmoothRowFromZeroKernel);
HWY_EXPORT(ProductRowKernel);
HWY_EXPORT(ResidualRowKernel);
HWY_EXPORT(MixRowsKernel);
HWY_EXPORT(HalveRowKernel);
HWY_EXPORT(DoubleRowKernel);
HWY_EXPORT(AddToRowKernel);
HWY_EXPORT(DotKernel);
HWY_EXPORT(LargestKernel);

void smoothRow(const EquationRow& equations, const float* right, bool atOdd, float* pressure) {
  HWY_DYNAMIC_DISPATCH(SmoothRowKernel)(equations, right, atOdd, pressure);
}

void smoothRowFromZero(const EquationRow& equations, const float* right, bool atOdd, float* pressure) {
  HWY_DYNAMIC_DISPATCH(SmoothRowFromZeroKernel)(equations, right, atOdd, pressure);
}

void productRow(const EquationRow& equations, const float* pressure, float* product) {
  HWY_DYNAMIC_DISPATCH(ProductRowKernel)(equations, pressure, product);
}

void residualRow(const EquationRow& equations, const float* pressure, const float* right, const float* norm,
                 float* residual) {
  HWY_DYNAMIC_DISPATCH(ResidualRowKernel)(equations, pressure, right, norm, residual);
}

void mixRows(const float* const* rows, const float* weights, std::size_t rowCount, std::size_t count,
             float* mixed) {
  HWY_DYNAMIC_DISPATCH(MixRowsKernel)(rows, weights, rowCount, count, mixed);
}

void halveRow(const float* fine, const float* inverse, std::size_t count, float* coarse) {
  HWY_DYNAMIC_DISPATCH(HalveRowKernel)(fine, inverse, count, coarse);
}

void doubleRow(const float* coarse, std::size_t count, float* fine) {
  HWY_DYNAMIC_DISPATCH(DoubleRowKernel)(coarse, count, fine);
}

void addToRow(const float* norm, const float* more, std::size_t count, float* pressure) {
  HWY_DYNAMIC_DISPATCH(AddToRowKernel)(norm, more, count, pressure);
}

double dotOf(const float* a, const float* b, std::size_t count) {
  return HWY_DYNAMIC_DISPATCH(DotKernel)(a, b, count);
}

float largestOf(const float* values, std::size_t count) {
  return HWY_DYNAMIC_DISPATCH(LargestKernel)(values, count);
}

}  // namespace comet
#endif  // HWY_ONCE
