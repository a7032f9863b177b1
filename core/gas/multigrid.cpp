#include "gas/multigrid.h"

#include "base/parallel.h"

#include <algorithm>

namespace comet {
namespace {

constexpr std::size_t kFewest = 4;          // an axis with fewer voxels is not halved
constexpr std::size_t kSerialCells = 8192;  // so few are done before other threads have begun
constexpr int kSweeps = 2;                  // before and after a coarser level
constexpr int kCoarsestSweeps = 16;

// Calls act(y, z) for each row of voxels along x, from several threads if there are many.
template <typename Act>
void forRows(const PressureLevel& level, const Act& act) {
  const std::size_t across = level.counts[1], rows = across * level.counts[2];
  const auto run = [&](std::size_t begin, std::size_t end) {
    for (std::size_t row = begin; row < end; ++row) act(row % across + 1, row / across + 1);
  };
  if (level.layout.size() < kSerialCells)
    run(0, rows);
  else
    runRanges(rows, Shares::Equal, run);
}

// The stencil around voxel `i` of a level.
struct Stencil {
  explicit Stencil(const PressureLevel& level)
      : x(level.open[0].data()),
        y(level.open[1].data()),
        z(level.open[2].data()),
        row(level.layout.row()),
        plane(level.layout.plane()) {}

  float diagonal(std::size_t i) const {
    return ((x[i] + x[i + 1]) + (y[i] + y[i + row])) + (z[i] + z[i + plane]);
  }
  float neighbours(const float* p, std::size_t i) const {
    return ((x[i] * p[i - 1] + x[i + 1] * p[i + 1]) + (y[i] * p[i - row] + y[i + row] * p[i + row])) +
           (z[i] * p[i - plane] + z[i + plane] * p[i + plane]);
  }

  const float *x, *y, *z;
  std::size_t row, plane;
};

// Where all six faces are open altogether.
struct PlainStencil {
  explicit PlainStencil(const PressureLevel& level)
      : whole(level.whole),
        diagonal(2 * (whole[0] + whole[1] + whole[2])),
        row(level.layout.row()),
        plane(level.layout.plane()) {}

  float neighbours(const float* p, std::size_t i) const {
    return (whole[0] * (p[i - 1] + p[i + 1]) + whole[1] * (p[i - row] + p[i + row])) +
           whole[2] * (p[i - plane] + p[i + plane]);
  }

  std::array<float, 3> whole;
  float diagonal;
  std::size_t row, plane;
};

// Solves the equations of every second voxel, those of one colour of a chessboard, with all others as they
// are.
void smooth(const PressureLevel& level, std::vector<float>& pressure, const std::vector<float>& right,
            std::size_t colour) {
  const Stencil cut(level);
  const PlainStencil whole(level);
  const float inverse = 1 / whole.diagonal;
  forRows(level, [&](std::size_t y, std::size_t z) {
    float* p = pressure.data();
    const float* b = right.data();
    const std::size_t start = level.rowOf(y, z), end = start + level.counts[0] + 1;
    const std::size_t first = start + 1 + (y + z + colour + 1) % 2;
    if (level.plain(y, z)) {
      for (std::size_t i = first; i < end; i += 2) p[i] = (b[i] + whole.neighbours(p, i)) * inverse;
    } else {
      for (std::size_t i = first; i < end; i += 2)
        if (level.hasGas(i)) p[i] = (b[i] + cut.neighbours(p, i)) / cut.diagonal(i);
    }
  });
}

void smoothBoth(const PressureLevel& level, std::vector<float>& pressure, const std::vector<float>& right,
                std::size_t firstColour) {
  smooth(level, pressure, right, firstColour);
  smooth(level, pressure, right, 1 - firstColour);
}

// As smoothBoth, from a pressure of 0.
void smoothFromZero(const PressureLevel& level, std::vector<float>& pressure,
                    const std::vector<float>& right) {
  const Stencil cut(level);
  const float inverse = 1 / PlainStencil(level).diagonal;
  forRows(level, [&](std::size_t y, std::size_t z) {
    float* p = pressure.data();
    const float* b = right.data();
    const std::size_t begin = level.rowOf(y, z) + 1, end = begin + level.counts[0];
    const std::size_t first = (y + z + 1) % 2;
    if (level.plain(y, z)) {
      for (std::size_t i = begin; i < end; ++i) p[i] = (i - begin) % 2 == first ? b[i] * inverse : 0.0F;
    } else {
      for (std::size_t i = begin; i < end; ++i)
        p[i] = (i - begin) % 2 == first && level.hasGas(i) ? b[i] / cut.diagonal(i) : 0.0F;
    }
  });
  smooth(level, pressure, right, 1);
}

// finish(i, A * pressure at i) for each voxel; 0 where there is no gas.
template <typename Finish>
void eachProduct(const PressureLevel& level, const std::vector<float>& pressure, const Finish& finish) {
  const Stencil cut(level);
  const PlainStencil whole(level);
  const float* p = pressure.data();
  forRows(level, [&](std::size_t y, std::size_t z) {
    const std::size_t begin = level.rowOf(y, z) + 1, end = begin + level.counts[0];
    if (level.plain(y, z)) {
      for (std::size_t i = begin; i < end; ++i) finish(i, whole.diagonal * p[i] - whole.neighbours(p, i));
    } else {
      for (std::size_t i = begin; i < end; ++i)
        finish(i, level.hasGas(i) ? cut.diagonal(i) * p[i] - cut.neighbours(p, i) : 0.0F);
    }
  });
}

// The two voxels of the next level that a voxel hangs on along an axis, nearer one first, and by how much.
struct Parents {
  std::size_t near, far;
  float nearWeight, farWeight;
};

Parents parentsOf(std::size_t at, bool isHalved) {
  if (!isHalved) return {at, at, 1, 0};
  const std::size_t near = (at + 1) / 2;
  return {near, at % 2 == 1 ? near - 1 : near + 1, 0.75F, 0.25F};
}

// The voxels that hang on one of the next level along an axis, and by how much.
struct Children {
  std::size_t first;
  std::size_t count;
  std::array<float, 4> weights;
};

Children childrenOf(std::size_t at, bool isHalved) {
  if (!isHalved) return {at, 1, {1, 0, 0, 0}};
  return {2 * at - 2, 4, {0.25F, 0.75F, 0.75F, 0.25F}};
}

// Mixes four rows of the next level for a row of this one: of(index) for the nodes of the next level's row.
template <typename Of>
void mixRows(const PressureLevel& coarse, const Parents& y, const Parents& z, const Of& of,
             std::vector<float>& row) {
  const std::size_t nn = coarse.rowOf(y.near, z.near), fn = coarse.rowOf(y.far, z.near),
                    nf = coarse.rowOf(y.near, z.far), ff = coarse.rowOf(y.far, z.far);
  for (std::size_t x = 0; x < coarse.layout.counts[0]; ++x)
    row[x] = z.nearWeight * (y.nearWeight * of(nn + x) + y.farWeight * of(fn + x)) +
             z.farWeight * (y.nearWeight * of(nf + x) + y.farWeight * of(ff + x));
}

}  // namespace

PressureLevel emptyLevel(const std::array<std::size_t, 3>& counts, const std::array<float, 3>& whole) {
  PressureLevel level;
  level.counts = counts;
  level.layout = {{counts[0] + 2, counts[1] + 2, counts[2] + 2}};
  level.cells.assign(level.layout.size(), PressureCell::Solid);
  for (auto& faces : level.open) faces.assign(level.layout.size(), 0.0F);
  level.whole = whole;
  level.isPlain.assign(level.layout.counts[1] * level.layout.counts[2], 0);
  return level;
}

void findPlainRows(PressureLevel& level) {
  const std::array<std::size_t, 3> step{1, level.layout.row(), level.layout.plane()};
  forRows(level, [&](std::size_t y, std::size_t z) {
    const std::size_t begin = level.rowOf(y, z) + 1, end = begin + level.counts[0];
    bool isPlain = true;
    for (std::size_t i = begin; i < end && isPlain; ++i) {
      isPlain = level.hasGas(i);
      for (std::size_t axis = 0; axis < 3; ++axis)
        isPlain = isPlain && level.open[axis][i] == level.whole[axis] &&
                  level.open[axis][i + step[axis]] == level.whole[axis];
    }
    level.isPlain[z * level.layout.counts[1] + y] = isPlain ? 1 : 0;
  });
}

void applyStencil(const PressureLevel& level, const std::vector<float>& pressure,
                  std::vector<float>& result) {
  float* out = result.data();
  eachProduct(level, pressure, [out](std::size_t i, float product) { out[i] = product; });
}

Multigrid::Multigrid(PressureLevel finest) {
  levels_.push_back({std::move(finest), {}, {}, {}, {}, {}});
  while (true) {
    Level& fine = levels_.back();
    const std::size_t size = fine.grid.layout.size();
    if (levels_.size() > 1) {
      fine.pressure.assign(size, 0.0F);
      fine.right.assign(size, 0.0F);
    }
    for (std::size_t axis = 0; axis < 3; ++axis) fine.halves[axis] = fine.grid.counts[axis] >= kFewest;
    if (!fine.halves[0] && !fine.halves[1] && !fine.halves[2]) break;
    PressureLevel next = coarser(fine);
    const bool hasGas = std::any_of(next.cells.begin(), next.cells.end(),
                                    [](PressureCell cell) { return cell == PressureCell::Gas; });
    if (!hasGas) {
      fine.halves = {};
      break;
    }
    fine.residual.assign(size, 0.0F);
    fine.norm.assign(size, 0.0F);
    findNorms(fine, next);
    levels_.push_back({std::move(next), {}, {}, {}, {}, {}});
  }
}

PressureLevel Multigrid::coarser(const Level& fine) {
  std::array<std::size_t, 3> counts{}, factor{};
  std::array<float, 3> whole = fine.grid.whole;
  for (std::size_t axis = 0; axis < 3; ++axis) {
    factor[axis] = fine.halves[axis] ? 2 : 1;
    counts[axis] = (fine.grid.counts[axis] + factor[axis] - 1) / factor[axis];
    // A face is as many times larger as there are voxels behind it, and the way across twice as far.
    for (std::size_t other = 0; other < 3; ++other)
      whole[other] *= !fine.halves[axis] ? 1.0F : axis == other ? 0.5F : 2.0F;
  }
  PressureLevel level = emptyLevel(counts, whole);
  const GridLayout &from = fine.grid.layout, &to = level.layout;
  // The first voxel of the finer level in each; the layers around have only their inner one.
  const auto firstIn = [&](std::size_t at, std::size_t axis) {
    return factor[axis] == 1 ? at : at == 0 ? std::size_t{0} : 2 * at - 1;
  };
  const auto countIn = [&](std::size_t at, std::size_t axis) {
    return at == 0 || at > counts[axis] ? std::size_t{1} : factor[axis];
  };
  for (std::size_t z = 0; z < to.counts[2]; ++z)
    for (std::size_t y = 0; y < to.counts[1]; ++y)
      for (std::size_t x = 0; x < to.counts[0]; ++x) {
        const std::array<std::size_t, 3> at{x, y, z};
        std::array<std::size_t, 3> first{}, count{};
        bool isThere = true;
        for (std::size_t axis = 0; axis < 3; ++axis) {
          first[axis] = firstIn(at[axis], axis);
          count[axis] = countIn(at[axis], axis);
          isThere = isThere && first[axis] < from.counts[axis];
        }
        if (!isThere) continue;
        const std::size_t index = to.index(x, y, z);
        PressureCell cell = PressureCell::Solid;
        for (std::size_t k = 0; k < count[2]; ++k)
          for (std::size_t j = 0; j < count[1]; ++j)
            for (std::size_t i = 0; i < count[0]; ++i) {
              const std::size_t child = from.index(first[0] + i, first[1] + j, first[2] + k);
              cell = std::max(cell, fine.grid.cells[child]);
              for (std::size_t axis = 0; axis < 3; ++axis)
                if ((axis == 0 ? i : axis == 1 ? j : k) == 0)
                  level.open[axis][index] += fine.grid.open[axis][child] / static_cast<float>(factor[axis]);
            }
        level.cells[index] = cell;
      }
  findPlainRows(level);
  return level;
}

void Multigrid::findNorms(Level& fine, const PressureLevel& coarse) {
  const auto isOpen = [&](std::size_t i) { return coarse.cells[i] == PressureCell::Solid ? 0.0F : 1.0F; };
  forRows(fine.grid, [&](std::size_t y, std::size_t z) {
    std::vector<float> row(coarse.layout.counts[0]);
    mixRows(coarse, parentsOf(y, fine.halves[1]), parentsOf(z, fine.halves[2]), isOpen, row);
    const std::size_t start = fine.grid.rowOf(y, z);
    for (std::size_t x = 1; x <= fine.grid.counts[0]; ++x) {
      const Parents parents = parentsOf(x, fine.halves[0]);
      const float sum = parents.nearWeight * row[parents.near] + parents.farWeight * row[parents.far];
      fine.norm[start + x] = fine.grid.hasGas(start + x) && sum > 0 ? 1 / sum : 0;
    }
  });
}

void Multigrid::restrictResidual(Level& fine, const std::vector<float>& right,
                                 const std::vector<float>& pressure, Level& coarse) {
  float* residual = fine.residual.data();
  const float *wanted = right.data(), *norm = fine.norm.data();
  eachProduct(fine.grid, pressure,
              [=](std::size_t i, float product) { residual[i] = (wanted[i] - product) * norm[i]; });
  forRows(coarse.grid, [&](std::size_t y, std::size_t z) {
    const Children inY = childrenOf(y, fine.halves[1]), inZ = childrenOf(z, fine.halves[2]);
    std::vector<float> row(fine.grid.layout.counts[0] + 2, 0.0F);
    for (std::size_t k = 0; k < inZ.count; ++k)
      for (std::size_t j = 0; j < inY.count; ++j) {
        const std::size_t fineY = inY.first + j, fineZ = inZ.first + k;
        if (fineY >= fine.grid.layout.counts[1] || fineZ >= fine.grid.layout.counts[2]) continue;
        const float weight = inY.weights[j] * inZ.weights[k];
        const float* from = residual + fine.grid.rowOf(fineY, fineZ);
        for (std::size_t x = 0; x < fine.grid.layout.counts[0]; ++x) row[x] += weight * from[x];
      }
    const std::size_t start = coarse.grid.rowOf(y, z);
    for (std::size_t x = 1; x <= coarse.grid.counts[0]; ++x) {
      const Children inX = childrenOf(x, fine.halves[0]);
      float sum = 0;
      for (std::size_t i = 0; i < inX.count; ++i) sum += inX.weights[i] * row[inX.first + i];
      coarse.right[start + x] = coarse.grid.hasGas(start + x) ? sum : 0.0F;
    }
  });
}

void Multigrid::prolong(const Level& coarse, const Level& fine, std::vector<float>& pressure) {
  const float* from = coarse.pressure.data();
  const auto pressureAt = [from](std::size_t i) { return from[i]; };
  forRows(fine.grid, [&](std::size_t y, std::size_t z) {
    std::vector<float> row(coarse.grid.layout.counts[0]);
    mixRows(coarse.grid, parentsOf(y, fine.halves[1]), parentsOf(z, fine.halves[2]), pressureAt, row);
    const std::size_t start = fine.grid.rowOf(y, z);
    for (std::size_t x = 1; x <= fine.grid.counts[0]; ++x) {
      const Parents parents = parentsOf(x, fine.halves[0]);
      pressure[start + x] += fine.norm[start + x] *
                             (parents.nearWeight * row[parents.near] + parents.farWeight * row[parents.far]);
    }
  });
}

void Multigrid::cycle(std::size_t index, const std::vector<float>& right, std::vector<float>& pressure) {
  Level& level = levels_[index];
  const bool isCoarsest = index + 1 == levels_.size();
  const int sweeps = isCoarsest ? kCoarsestSweeps : kSweeps;
  smoothFromZero(level.grid, pressure, right);
  for (int i = 1; i < sweeps; ++i) smoothBoth(level.grid, pressure, right, 0);
  if (!isCoarsest) {
    Level& next = levels_[index + 1];
    restrictResidual(level, right, pressure, next);
    cycle(index + 1, next.right, next.pressure);
    prolong(next, level, pressure);
  }
  // In the opposite order, so that the whole is symmetric.
  for (int i = 0; i < sweeps; ++i) smoothBoth(level.grid, pressure, right, 1);
}

void Multigrid::precondition(const std::vector<float>& right, std::vector<float>& result) {
  cycle(0, right, result);
}

}  // namespace comet
