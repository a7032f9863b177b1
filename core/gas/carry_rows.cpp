#include "gas/carry_rows.h"

#include <type_traits>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "gas/carry_rows.cpp"
#include <hwy/foreach_target.h>
// After foreach_target.h, as the library asks.
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace comet {
namespace HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

using Tag = hn::CappedTag<float, 16>;
using WholeTag = hn::RebindToSigned<Tag>;
using Float = hn::Vec<Tag>;
constexpr std::size_t kLanes = hn::MaxLanes(Tag());

HWY_INLINE Float between(Float a, Float b, Float t) { return hn::Add(a, hn::Mul(hn::Sub(b, a), t)); }

// Some neighbouring nodes' points.
struct Points {
  Float x, y, z;

  HWY_INLINE Points(const CarryRow& row, std::size_t i) {
    const Tag d;
    const Float half = hn::Set(d, 0.5F);
    const auto moved = [&](std::size_t axis) {
      return hn::Mul(half, hn::Add(hn::LoadU(d, row.one[axis] + i), hn::LoadU(d, row.other[axis] + i)));
    };
    x = hn::Add(hn::Iota(d, static_cast<float>(i)), moved(0));
    y = hn::Add(hn::Set(d, row.y), moved(1));
    z = hn::Add(hn::Set(d, row.z), moved(2));
  }
};

// Where they lie among the nodes of a grid: the least of those around each, and how far beyond. There are
// eight around, or four in a grid of one layer.
template <std::size_t kAround>
struct Spots {
  hn::Vec<WholeTag> index;
  Float x, y, z;
  // Whether each point has the node next to the one of the point before it, as most have: flows are smooth.
  // Rows are read several times as fast then as nodes one by one.
  bool isRow;

  // Of points of which `count` are wanted.
  HWY_INLINE Spots(const CarryNodes& nodes, const Points& at, std::size_t count) {
    const auto alongX = along(nodes, 0, hn::Add(at.x, hn::Set(Tag(), 1.0F)), x),
               alongY = along(nodes, 1, at.y, y), alongZ = along(nodes, 2, at.z, z);
    index = hn::Add(hn::Add(alongX, alongY), alongZ);
    const WholeTag w;
    const auto isNext = hn::Eq(index, hn::Iota(w, hn::GetLane(index)));
    isRow = hn::AllTrue(w, hn::Or(isNext, hn::Not(hn::FirstN(w, count))));
  }

  // A channel at the nodes around.
  struct Corners {
    Float v[kAround];
  };
  HWY_INLINE Corners around(const CarryNodes& nodes, const float* channel) const {
    const Tag d;
    Corners corners;
    const auto first = static_cast<std::size_t>(hn::GetLane(index));
    for (std::size_t i = 0; i < kAround; ++i) {
      const float* from =
          channel + (i & 1 ? nodes.next[0] : 0) + (i & 2 ? nodes.next[1] : 0) + (i & 4 ? nodes.next[2] : 0);
      corners.v[i] = isRow ? hn::LoadU(d, from + first) : hn::GatherIndex(d, from, index);
    }
    return corners;
  }
  HWY_INLINE Float mix(const Corners& around) const {
    const Float* v = around.v;
    const Float near = between(between(v[0], v[1], x), between(v[2], v[3], x), y);
    if constexpr (kAround == 4) return near;
    const Float far = between(between(v[4], v[5], x), between(v[6], v[7], x), y);
    return between(near, far, z);
  }

 private:
  HWY_INLINE static hn::Vec<WholeTag> along(const CarryNodes& nodes, std::size_t axis, Float at,
                                            Float& beyond) {
    const Tag d;
    const WholeTag w;
    // What is no number is at the first node.
    const Float positive = hn::IfThenElseZero(hn::Gt(at, hn::Zero(d)), at);
    const Float inside = hn::Min(positive, hn::Set(d, nodes.last[axis]));
    const auto node = hn::Min(hn::ConvertTo(w, inside), hn::Set(w, nodes.lastLow[axis]));
    beyond = hn::Sub(inside, hn::ConvertTo(d, node));
    return hn::Mul(node, hn::Set(w, nodes.step[axis]));
  }
};

template <std::size_t kAround>
HWY_INLINE Float minOf(const Float (&v)[kAround]) {
  Float min = v[0];
  for (std::size_t i = 1; i < kAround; ++i) min = hn::Min(min, v[i]);
  return min;
}

template <std::size_t kAround>
HWY_INLINE Float maxOf(const Float (&v)[kAround]) {
  Float max = v[0];
  for (std::size_t i = 1; i < kAround; ++i) max = hn::Max(max, v[i]);
  return max;
}

// Calls act(around) with how many nodes are around a point, as a constant.
template <typename Act>
HWY_INLINE void withAround(const CarryNodes& nodes, const Act& act) {
  if (nodes.next[2] == 0)
    act(std::integral_constant<std::size_t, 4>());
  else
    act(std::integral_constant<std::size_t, 8>());
}

void CarryRowKernel(const CarryNodes& nodes, const CarryRow& row, const CarryLimits& limits,
                    std::span<const CarryChannel> channels) {
  withAround(nodes, [&](auto count) {
    const Tag d;
    for (std::size_t i = 0; i < row.count; i += kLanes) {
      const Points at(row, i);
      const Spots<count()> spots(nodes, at, row.count - i);
      const auto within = [&](Float v, std::size_t axis) {
        return hn::And(hn::Ge(v, hn::Set(d, limits.min[axis])), hn::Le(v, hn::Set(d, limits.max[axis])));
      };
      const auto isWithin = hn::And(hn::And(within(at.x, 0), within(at.y, 1)), within(at.z, 2));
      for (const CarryChannel& channel : channels) {
        const auto around = spots.around(nodes, channel.before);
        hn::StoreU(hn::IfThenElseZero(isWithin, spots.mix(around)), d, channel.carried + i);
        hn::StoreU(hn::IfThenElseZero(isWithin, minOf(around.v)), d, channel.min + i);
        hn::StoreU(hn::IfThenElseZero(isWithin, maxOf(around.v)), d, channel.max + i);
      }
    }
  });
}

void CorrectRowKernel(const CarryNodes& nodes, const CarryRow& row, std::span<const CarryChannel> channels) {
  withAround(nodes, [&](auto count) {
    const Tag d;
    for (std::size_t i = 0; i < row.count; i += kLanes) {
      const Spots<count()> spots(nodes, Points(row, i), row.count - i);
      for (const CarryChannel& channel : channels) {
        const Float back = spots.mix(spots.around(nodes, channel.once));
        const Float wrong = hn::Mul(hn::Set(d, 0.5F), hn::Sub(hn::LoadU(d, channel.was + i), back));
        const Float corrected = hn::Add(hn::LoadU(d, channel.carried + i), wrong);
        hn::StoreU(hn::Max(hn::LoadU(d, channel.min + i), hn::Min(corrected, hn::LoadU(d, channel.max + i))),
                   d, channel.result + i);
      }
    }
  });
}

void FlowRowKernel(const CarryNodes& nodes, const CarryRow& row, const std::array<const float*, 3>& flow,
                   float factor, const std::array<float*, 3>& result) {
  withAround(nodes, [&](auto count) {
    const Tag d;
    for (std::size_t i = 0; i < row.count; i += kLanes) {
      const Spots<count()> spots(nodes, Points(row, i), row.count - i);
      for (std::size_t axis = 0; axis < 3; ++axis) {
        const Float v = spots.mix(spots.around(nodes, flow[axis]));
        hn::StoreU(hn::Mul(hn::Set(d, factor), v), d, result[axis] + i);
      }
    }
  });
}

}  // namespace HWY_NAMESPACE
}  // namespace comet
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace comet {

HWY_EXPORT(CarryRowKernel);
HWY_EXPORT(CorrectRowKernel);
HWY_EXPORT(FlowRowKernel);

CarryNodes::CarryNodes(const PaddedRows& rows) {
  const GridLayout& layout = rows.layout();
  const std::array<std::size_t, 3> counts{layout.counts[0] + 2, layout.counts[1], layout.counts[2]};
  const std::array<std::size_t, 3> steps{1, rows.stride(), rows.stride() * layout.counts[1]};
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const auto end = static_cast<std::int32_t>(counts[axis]) - 1;
    last[axis] = static_cast<float>(end);
    lastLow[axis] = end > 0 ? end - 1 : 0;
    step[axis] = static_cast<std::int32_t>(steps[axis]);
    next[axis] = end > 0 ? steps[axis] : 0;
  }
}

void carryRow(const CarryNodes& nodes, const CarryRow& row, const CarryLimits& limits,
              std::span<const CarryChannel> channels) {
  HWY_DYNAMIC_DISPATCH(CarryRowKernel)(nodes, row, limits, channels);
}

void correctRow(const CarryNodes& nodes, const CarryRow& row, std::span<const CarryChannel> channels) {
  HWY_DYNAMIC_DISPATCH(CorrectRowKernel)(nodes, row, channels);
}

void flowRow(const CarryNodes& nodes, const CarryRow& row, const std::array<const float*, 3>& flow,
             float factor, const std::array<float*, 3>& result) {
  HWY_DYNAMIC_DISPATCH(FlowRowKernel)(nodes, row, flow, factor, result);
}

}  // namespace comet
#endif  // HWY_ONCE
