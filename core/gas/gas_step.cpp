#include "gas/gas_step.h"

#include "base/untouched.h"
#include "gas/advect.h"
#include "gas/rows.h"
#include "gas/voxel_vectors.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr double kMostPairs = 8;

// The velocity that is mirrored may have so many times more divergence left: the second half takes it away.
constexpr double kMiddle = 20;

// The change of numbers from voxel to voxel along an axis, per unit, for a row along x; one-sided at walls.
class RowSlope {
 public:
  explicit RowSlope(const GasGrid& grid) : cells_(grid.cells()), voxel_(static_cast<float>(grid.voxel)) {}

  void along(std::size_t axis, const float* values, std::size_t y, std::size_t z,
             std::vector<float>& result) const {
    const std::size_t count = cells_.counts[0];
    result.resize(count);
    const std::array<std::size_t, 3> at{0, y, z};
    if (axis > 0) {
      const std::size_t start = cells_.index(0, y, z), step = stepAlong(cells_, axis);
      const std::size_t down = at[axis] > 0 ? 1 : 0, up = at[axis] + 1 < cells_.counts[axis] ? 1 : 0;
      const float *below = values + start - down * step, *above = values + start + up * step;
      const float perUnit = up + down > 0 ? 1 / (voxel_ * static_cast<float>(up + down)) : 0.0F;
      for (std::size_t x = 0; x < count; ++x) result[x] = (above[x] - below[x]) * perUnit;
      return;
    }
    const float* row = values + cells_.index(0, y, z);
    const float perUnit = 0.5F / voxel_;
    for (std::size_t x = 1; x + 1 < count; ++x) result[x] = (row[x + 1] - row[x - 1]) * perUnit;
    result.front() = count > 1 ? (row[1] - row[0]) / voxel_ : 0.0F;
    result.back() = count > 1 ? (row[count - 1] - row[count - 2]) / voxel_ : 0.0F;
  }

 private:
  GridLayout cells_;
  float voxel_;
};

void fade(GasChannel& channel, double factor) {
  if (factor == 1) return;
  const auto kept = static_cast<float>(factor);
  forBlocks(channel.size(), [&](std::size_t begin, std::size_t end) {
    for (std::size_t i = begin; i < end; ++i) channel[i] *= kept;
  });
}

// How much of a wave of two voxels' length is taken away in a half of a step; of one of four a quarter of
// that, of one of eight a fiftieth.
constexpr float kWaveDamping = 0.15F;

// Takes away waves as short as the grid's own, which reflections would keep alive: fourth differences along
// each axis, which smooth flows hardly have. What lies next to a wall is left alone, and so are axes of few
// voxels.
void dampGridWaves(const GasGrid& grid, GasVelocity& velocity) {
  constexpr std::size_t kReach = 2;
  for (std::size_t axis = 0; axis < 3; ++axis) {
    if (grid.isStill(axis)) continue;
    const GridLayout faces = grid.faces(axis);
    std::vector<std::ptrdiff_t> steps;
    std::array<std::size_t, 3> rim{};
    for (std::size_t i = 0; i < 3; ++i) {
      if (faces.counts[i] <= 2 * kReach) continue;
      steps.push_back(static_cast<std::ptrdiff_t>(stepAlong(faces, i)));
      rim[i] = kReach;
    }
    UntouchedVector<float> before(velocity[axis].size());
    forBlocks(before.size(), [&](std::size_t begin, std::size_t end) {
      std::copy(velocity[axis].begin() + static_cast<std::ptrdiff_t>(begin),
                velocity[axis].begin() + static_cast<std::ptrdiff_t>(end),
                before.begin() + static_cast<std::ptrdiff_t>(begin));
    });
    const auto own = 6 * static_cast<float>(steps.size());
    forRowsWith<std::vector<float>>(faces, [&](std::size_t y, std::size_t z, std::vector<float>& waves) {
      if (y < rim[1] || y + rim[1] >= faces.counts[1] || z < rim[2] || z + rim[2] >= faces.counts[2]) return;
      const std::size_t start = faces.index(rim[0], y, z);
      const auto count = static_cast<std::ptrdiff_t>(faces.counts[0] - 2 * rim[0]);
      const float* at = before.data() + start;
      waves.assign(at, at + count);
      for (float& wave : waves) wave *= own;
      for (const std::ptrdiff_t step : steps) {
        const float *far = at - 2 * step, *near = at - step, *next = at + step, *beyond = at + 2 * step;
        for (std::ptrdiff_t x = 0; x < count; ++x)
          waves[static_cast<std::size_t>(x)] += far[x] + beyond[x] - 4 * (near[x] + next[x]);
      }
      float* to = velocity[axis].data() + start;
      for (std::ptrdiff_t x = 0; x < count; ++x)
        to[x] -= kWaveDamping / 16 * waves[static_cast<std::size_t>(x)];
    });
  }
}

// Mirrors a velocity at what is left of it without its divergence.
void reflect(const GasVelocity& projected, GasVelocity& velocity) {
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const float* kept = projected[axis].data();
    float* across = velocity[axis].data();
    forBlocks(velocity[axis].size(), [=](std::size_t begin, std::size_t end) {
      for (std::size_t i = begin; i < end; ++i) across[i] = 2 * kept[i] - across[i];
    });
  }
}

std::size_t resetEndless(GasChannel& channel) {
  return static_cast<std::size_t>(sumOfBlocks(channel.size(), [&](std::size_t begin, std::size_t end) {
    // A number that is endless, or none, times 0 is no number.
    float sum = 0;
    for (std::size_t i = begin; i < end; ++i) sum += channel[i] * 0.0F;
    std::size_t count = 0;
    if (sum == 0) return count;
    for (std::size_t i = begin; i < end; ++i)
      if (!std::isfinite(channel[i])) {
        channel[i] = 0;
        ++count;
      }
    return count;
  }));
}

std::size_t resetEndless(GasState& state) {
  std::size_t count = resetEndless(state.density) + resetEndless(state.temperature);
  for (GasChannel& across : state.velocity) count += resetEndless(across);
  for (GasChannel& channel : state.color) count += resetEndless(channel);
  return count;
}

}  // namespace

double largestSpeed(const GasVelocity& velocity) {
  double squares = 0;
  for (const GasChannel& across : velocity) {
    const double found = largestOfBlocks(across.size(), [&](std::size_t begin, std::size_t end) {
      float most = 0;
      for (std::size_t i = begin; i < end; ++i) most = std::max(most, std::abs(across[i]));
      return most;
    });
    squares += found * found;
  }
  return std::sqrt(squares);
}

void addBuoyancy(const GasGrid& grid, const GasMotion& motion, double seconds, GasState& state) {
  if (motion.buoyancy == 0 && motion.weight == 0) return;
  const GridLayout cells = grid.cells(), faces = grid.faces(1);
  const auto lift = static_cast<float>(0.5 * motion.buoyancy * seconds);
  const auto weight = static_cast<float>(0.5 * motion.weight * seconds);
  forRows(faces, [&](std::size_t y, std::size_t z) {
    const std::size_t below = cells.index(0, y > 0 ? y - 1 : 0, z);
    const std::size_t above = cells.index(0, std::min(y, grid.counts[1] - 1), z);
    const float *warm = state.temperature.data(), *dense = state.density.data();
    float* up = state.velocity[1].data() + faces.index(0, y, z);
    for (std::size_t x = 0; x < faces.counts[0]; ++x)
      up[x] += lift * (warm[below + x] + warm[above + x]) - weight * (dense[below + x] + dense[above + x]);
  });
}

void confineVorticity(const GasGrid& grid, double strength, double seconds, GasVelocity& velocity) {
  if (strength == 0) return;
  const GridLayout cells = grid.cells();
  const VoxelVectors middle = middleVelocities(grid, velocity);
  VoxelVectors curl = voxelVectors(cells), push = voxelVectors(cells);
  UntouchedVector<float> strengths(cells.size());
  const RowSlope slope(grid);
  const bool isFlat = grid.isStill(0) || grid.isStill(1) || grid.isStill(2);
  using Slopes = std::array<std::vector<float>, 3>;
  forRowsWith<Slopes>(cells, [&](std::size_t y, std::size_t z, Slopes& slopes) {
    auto& [up, down, squares] = slopes;
    const std::size_t start = cells.index(0, y, z), count = cells.counts[0];
    squares.assign(count, 0.0F);
    for (std::size_t axis = 0; axis < 3; ++axis) {
      float* turning = curl[axis].data() + start;
      // Flat gas turns around the axis along which it is still.
      if (isFlat && !grid.isStill(axis)) {
        std::fill_n(turning, count, 0.0F);
        continue;
      }
      const std::size_t one = (axis + 1) % 3, other = (axis + 2) % 3;
      slope.along(one, middle[other].data(), y, z, up);
      slope.along(other, middle[one].data(), y, z, down);
      for (std::size_t x = 0; x < count; ++x) {
        turning[x] = up[x] - down[x];
        squares[x] += turning[x] * turning[x];
      }
    }
    for (std::size_t x = 0; x < count; ++x) strengths[start + x] = std::sqrt(squares[x]);
  });
  const auto scale = static_cast<float>(strength * grid.voxel * seconds);
  forRowsWith<Slopes>(cells, [&](std::size_t y, std::size_t z, Slopes& towards) {
    for (std::size_t axis = 0; axis < 3; ++axis) slope.along(axis, strengths.data(), y, z, towards[axis]);
    const std::size_t start = cells.index(0, y, z);
    const float *a = towards[0].data(), *b = towards[1].data(), *c = towards[2].data();
    const float *u = curl[0].data() + start, *v = curl[1].data() + start, *w = curl[2].data() + start;
    float *x = push[0].data() + start, *up = push[1].data() + start, *ahead = push[2].data() + start;
    for (std::size_t i = 0; i < cells.counts[0]; ++i) {
      const float length = std::sqrt(a[i] * a[i] + b[i] * b[i] + c[i] * c[i]);
      const float unit = length > 1e-12F ? scale / length : 0.0F;
      x[i] = unit * (b[i] * w[i] - c[i] * v[i]);
      up[i] = unit * (c[i] * u[i] - a[i] * w[i]);
      ahead[i] = unit * (a[i] * v[i] - b[i] * u[i]);
    }
  });
  addToFaces(grid, push, velocity);
}

GasStepReport stepGas(const GasGrid& grid, PressureSolver& solver, const GasMotion& motion, double seconds,
                      const GasChannel& expansion, const GasPush& push, GasState& state,
                      const Progress& progress) {
  GasStepReport report;
  report.resetVoxels = resetEndless(state);
  const double voxels = largestSpeed(state.velocity) * seconds / grid.voxel;
  const double pairs = std::clamp(std::ceil(voxels / (2 * motion.mostVoxels)), 1.0, kMostPairs);
  report.halves = 2 * static_cast<int>(pairs);
  const double half = seconds / report.halves;
  GasVelocity flow = state.velocity;
  for (int i = 0; i < report.halves; ++i) {
    progress.stopIfCancelled();
    advect(grid, flow, half, state);
    progress.stopIfCancelled();
    addBuoyancy(grid, motion, half, state);
    confineVorticity(grid, motion.vorticity, half, state.velocity);
    if (push) push(state.velocity, half);
    dampGridWaves(grid, state.velocity);
    const double left = std::exp(-motion.dissipation * half);
    fade(state.density, left);
    for (GasChannel& channel : state.color) fade(channel, left);
    fade(state.temperature, std::exp(-motion.cooling * half));
    flow = state.velocity;
    const bool isMiddle = i % 2 == 0;
    const PressureResult pressure = solver.project(
        flow, expansion, (isMiddle ? kMiddle : 1) * motion.tolerance, motion.mostRounds, progress);
    report.rounds += pressure.rounds;
    report.divergenceLeft = pressure.residual;
    report.isReached = report.isReached && pressure.isReached;
    if (isMiddle)
      reflect(flow, state.velocity);
    else
      state.velocity = flow;
  }
  return report;
}

}  // namespace comet
