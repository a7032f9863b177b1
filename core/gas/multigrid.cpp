#include "gas/multigrid.h"

#include "gas/row_passes.h"
#include "gas/rows.h"

#include <algorithm>

namespace comet {
namespace {

constexpr std::size_t kFewest = 4;  // an axis with fewer voxels is not halved
// Passes of a colour each: before and after a coarser level, and on the coarsest one. The latter are odd, the
// same forwards and backwards.
constexpr std::size_t kPasses = 4;
constexpr std::size_t kCoarsestPasses = 63;

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

// How many numbers are needed to mix a row of a level.
std::size_t numbersToMix(const PressureLevel& level) { return 3 * (level.layout.row() + kPressureLanes); }

// What the next level's numbers are in a row, mixed from those around. `room` is for numbersToMix(coarse).
const float* mixCoarserRow(const PressureLevel& coarse, const std::array<bool, 3>& halves,
                           const LevelNumbers& values, std::size_t y, std::size_t z, float* room) {
  const std::size_t count = coarse.layout.row();
  const Parents inY = parentsOf(y, halves[1]), inZ = parentsOf(z, halves[2]);
  const std::array<const float*, 4> rows{
      values.data() + coarse.rowOf(inY.near, inZ.near), values.data() + coarse.rowOf(inY.far, inZ.near),
      values.data() + coarse.rowOf(inY.near, inZ.far), values.data() + coarse.rowOf(inY.far, inZ.far)};
  const std::array<float, 4> weights{inY.nearWeight * inZ.nearWeight, inY.farWeight * inZ.nearWeight,
                                     inY.nearWeight * inZ.farWeight, inY.farWeight * inZ.farWeight};
  float* mixed = room + kPressureLanes;
  mixRows(rows.data(), weights.data(), rows.size(), count, mixed);
  if (!halves[0]) return mixed;
  float* doubled = mixed + count + kPressureLanes;
  doubleRow(mixed, count, doubled);
  return doubled;
}

// The rows of a finer level that make a row of the next one: the first along y and z, and how many.
struct FinerRows {
  std::array<std::size_t, 2> first{}, count{};
};

// Of a level's row among its layers around too, which have only their inner layer in the finer one; none if
// that has too few rows.
FinerRows finerRows(const PressureLevel& coarse, const MultigridLevel& fine, std::size_t y, std::size_t z) {
  FinerRows rows;
  const std::array<std::size_t, 2> at{y, z};
  for (std::size_t i = 0; i < 2; ++i) {
    const std::size_t axis = i + 1, last = coarse.counts[axis] + 1;
    const bool isAround = at[i] == 0 || at[i] == last;
    rows.first[i] = !fine.halves[axis] ? at[i] : at[i] == 0 ? 0 : 2 * at[i] - 1;
    rows.count[i] = fine.halves[axis] && !isAround ? 2 : 1;
    if (rows.first[i] >= fine.grid.layout.counts[axis]) rows.count[i] = 0;
  }
  return rows;
}

// What a voxel of a coarser row has of a finer level's row.
void gatherRow(const MultigridLevel& fine, std::size_t fineStart, bool isLowest, bool isNearest,
               std::size_t start, PressureLevel& coarse) {
  const std::array<bool, 3>& halves = fine.halves;
  const std::size_t factor = halves[0] ? 2 : 1, end = fine.grid.counts[0] + 1;
  const float scale = halves[0] ? 0.5F : 1.0F, scaleUp = halves[1] ? 0.5F : 1.0F,
              scaleAhead = halves[2] ? 0.5F : 1.0F;
  for (std::size_t x = 0; x <= coarse.counts[0] + 1; ++x) {
    const bool isAround = x == 0 || x > coarse.counts[0];
    const std::size_t first = factor == 1 ? x : x == 0 ? 0 : 2 * x - 1;
    const std::size_t last = std::min(end, isAround ? first : first + factor - 1);
    if (first > end) continue;
    const std::size_t to = start + x;
    coarse.open[0][to] += scale * fine.grid.open[0][fineStart + first];
    for (std::size_t i = fineStart + first; i <= fineStart + last; ++i) {
      coarse.cells[to] = std::max(coarse.cells[to], fine.grid.cells[i]);
      if (isLowest) coarse.open[1][to] += scaleUp * fine.grid.open[1][i];
      if (isNearest) coarse.open[2][to] += scaleAhead * fine.grid.open[2][i];
    }
  }
}

PressureLevel coarser(const MultigridLevel& fine) {
  std::array<std::size_t, 3> counts = fine.grid.counts;
  std::array<float, 3> whole = fine.grid.whole;
  for (std::size_t axis = 0; axis < 3; ++axis) {
    if (!fine.halves[axis]) continue;
    counts[axis] = (counts[axis] + 1) / 2;
    // A face is as many times larger as there are voxels behind it, and the way across twice as far.
    for (std::size_t other = 0; other < 3; ++other) whole[other] *= axis == other ? 0.5F : 2.0F;
  }
  PressureLevel level = emptyLevel(counts, whole);
  forRows(level.layout, [&](std::size_t y, std::size_t z) {
    const FinerRows rows = finerRows(level, fine, y, z);
    for (std::size_t k = 0; k < rows.count[1]; ++k)
      for (std::size_t j = 0; j < rows.count[0]; ++j)
        gatherRow(fine, fine.grid.rowOf(rows.first[0] + j, rows.first[1] + k), j == 0, k == 0,
                  level.rowOf(y, z), level);
  });
  completeLevel(level);
  return level;
}

LevelNumbers normsOf(const MultigridLevel& fine, const PressureLevel& coarse) {
  LevelNumbers isOpen(coarse.layout.size()), norms(fine.grid.layout.size(), 0.0F);
  std::transform(coarse.cells.begin(), coarse.cells.end(), isOpen.begin(),
                 [](PressureCell cell) { return cell == PressureCell::Solid ? 0.0F : 1.0F; });
  forRowsWith(fine.grid, numbersToMix(coarse), [&](std::size_t y, std::size_t z, float* room) {
    const float* sums = mixCoarserRow(coarse, fine.halves, isOpen, y, z, room);
    const std::size_t start = fine.grid.rowOf(y, z);
    for (std::size_t x = 1; x <= fine.grid.counts[0]; ++x)
      if (fine.grid.hasGas(start + x) && sums[x] > 0) norms[start + x] = 1 / sums[x];
  });
  return norms;
}

bool hasGas(const PressureLevel& level) {
  return std::find(level.cells.begin(), level.cells.end(), PressureCell::Gas) != level.cells.end();
}

}  // namespace

std::vector<MultigridLevel> multigridLevels(PressureLevel finest) {
  std::vector<MultigridLevel> levels;
  levels.push_back({std::move(finest), {}, {}});
  while (true) {
    MultigridLevel& fine = levels.back();
    for (std::size_t axis = 0; axis < 3; ++axis) fine.halves[axis] = fine.grid.counts[axis] >= kFewest;
    if (!fine.halves[0] && !fine.halves[1] && !fine.halves[2]) break;
    PressureLevel next = coarser(fine);
    if (!hasGas(next)) {
      fine.halves = {};
      break;
    }
    fine.norm = normsOf(fine, next);
    levels.push_back({std::move(next), {}, {}});
  }
  return levels;
}

Multigrid::Multigrid(std::shared_ptr<const std::vector<MultigridLevel>> levels)
    : levels_(std::move(levels)), numbers_(levels_->size()) {
  for (std::size_t i = 0; i < numbers_.size(); ++i) {
    const std::size_t size = (*levels_)[i].grid.layout.size();
    if (i > 0) {
      numbers_[i].pressure.assign(size, 0.0F);
      numbers_[i].right.assign(size, 0.0F);
    }
    if (i + 1 < numbers_.size()) numbers_[i].residual.assign(size, 0.0F);
  }
}

void Multigrid::restrictResidual(std::size_t index) {
  const MultigridLevel& fine = (*levels_)[index];
  const PressureLevel& coarse = (*levels_)[index + 1].grid;
  const LevelNumbers& residual = numbers_[index].residual;
  LevelNumbers& restricted = numbers_[index + 1].right;
  const std::size_t count = coarse.layout.row();
  forRowsWith(coarse, 2 * (count + kPressureLanes), [&](std::size_t y, std::size_t z, float* room) {
    const Children inY = childrenOf(y, fine.halves[1]), inZ = childrenOf(z, fine.halves[2]);
    std::array<const float*, 16> rows{};
    std::array<float, 16> weights{};
    std::size_t rowCount = 0;
    for (std::size_t k = 0; k < inZ.count; ++k)
      for (std::size_t j = 0; j < inY.count; ++j) {
        const std::size_t fineY = inY.first + j, fineZ = inZ.first + k;
        if (fineY >= fine.grid.layout.counts[1] || fineZ >= fine.grid.layout.counts[2]) continue;
        rows[rowCount] = residual.data() + fine.grid.rowOf(fineY, fineZ);
        weights[rowCount++] = inY.weights[j] * inZ.weights[k];
      }
    const std::size_t start = coarse.rowOf(y, z);
    float* mixed = room + kPressureLanes;
    mixRows(rows.data(), weights.data(), rowCount, fine.grid.layout.row(), mixed);
    if (fine.halves[0])
      halveRow(mixed, coarse.inverse.data() + start, count, restricted.data() + start);
    else
      std::copy_n(mixed, count, restricted.data() + start);
  });
}

void Multigrid::solveCoarsest(const PressureLevel& grid, const LevelNumbers& right, LevelNumbers& pressure) {
  runRowPasses(grid, kCoarsestPasses, 0, [&](std::size_t pass, std::size_t y, std::size_t z, float*) {
    if (pass == 0)
      smoothRowFromZero(grid, y, z, right, 0, pressure);
    else
      smoothRow(grid, y, z, right, pass % 2, pressure);
  });
}

void Multigrid::descend(std::size_t index, const LevelNumbers& right, LevelNumbers& pressure) {
  const MultigridLevel& fine = (*levels_)[index];
  runRowPasses(fine.grid, kPasses + 1, 0, [&](std::size_t pass, std::size_t y, std::size_t z, float*) {
    if (pass == 0)
      smoothRowFromZero(fine.grid, y, z, right, 0, pressure);
    else if (pass < kPasses)
      smoothRow(fine.grid, y, z, right, pass % 2, pressure);
    else
      findResidualInRow(fine.grid, y, z, pressure, right, fine.norm, numbers_[index].residual);
  });
}

void Multigrid::ascend(std::size_t index, const LevelNumbers& right, LevelNumbers& pressure) {
  const MultigridLevel& fine = (*levels_)[index];
  const PressureLevel& coarse = (*levels_)[index + 1].grid;
  const LevelNumbers& more = numbers_[index + 1].pressure;
  runRowPasses(fine.grid, kPasses + 1, numbersToMix(coarse),
               [&](std::size_t pass, std::size_t y, std::size_t z, float* room) {
                 if (pass > 0) return smoothRow(fine.grid, y, z, right, pass % 2, pressure);
                 const std::size_t start = fine.grid.rowOf(y, z);
                 addToRow(fine.norm.data() + start, mixCoarserRow(coarse, fine.halves, more, y, z, room),
                          fine.grid.layout.row(), pressure.data() + start);
               });
}

void Multigrid::cycle(std::size_t index, const LevelNumbers& right, LevelNumbers& pressure) {
  if (index + 1 == levels_->size()) return solveCoarsest((*levels_)[index].grid, right, pressure);
  descend(index, right, pressure);
  restrictResidual(index);
  cycle(index + 1, numbers_[index + 1].right, numbers_[index + 1].pressure);
  ascend(index, right, pressure);
}

void Multigrid::precondition(const LevelNumbers& right, LevelNumbers& result) { cycle(0, right, result); }

}  // namespace comet
