#include "gas/gas_step.h"

#include "base/parallel.h"
#include "gas/advect.h"
#include "gas/rows.h"
#include "gas/voxel_vectors.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr double kMostPairs = 8;

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

void fade(const GridLayout& layout, GasChannel& channel, double factor) {
  if (factor == 1) return;
  const auto kept = static_cast<float>(factor);
  parallelFor(layout.counts[2], [&](std::size_t z) {
    for (std::size_t i = z * layout.plane(); i < (z + 1) * layout.plane(); ++i) channel[i] *= kept;
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
    const GridLayout faces = grid.faces(axis);
    std::vector<std::ptrdiff_t> steps;
    std::array<std::size_t, 3> rim{};
    for (std::size_t i = 0; i < 3; ++i) {
      if (faces.counts[i] <= 2 * kReach) continue;
      steps.push_back(static_cast<std::ptrdiff_t>(stepAlong(faces, i)));
      rim[i] = kReach;
    }
    const GasChannel before = velocity[axis];
    const auto own = 6 * static_cast<float>(steps.size());
    forRows(faces, [&](std::size_t y, std::size_t z) {
      if (y < rim[1] || y + rim[1] >= faces.counts[1] || z < rim[2] || z + rim[2] >= faces.counts[2]) return;
      const std::size_t start = faces.index(rim[0], y, z);
      const auto count = static_cast<std::ptrdiff_t>(faces.counts[0] - 2 * rim[0]);
      const float* at = before.data() + start;
      float* to = velocity[axis].data() + start;
      for (std::ptrdiff_t x = 0; x < count; ++x) {
        float waves = own * at[x];
        for (const std::ptrdiff_t step : steps)
          waves += at[x - 2 * step] + at[x + 2 * step] - 4 * (at[x - step] + at[x + step]);
        to[x] -= kWaveDamping / 16 * waves;
      }
    });
  }
}

// Mirrors a velocity at what is left of it without its divergence.
void reflect(const GasVelocity& projected, GasVelocity& velocity) {
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const float* kept = projected[axis].data();
    float* across = velocity[axis].data();
    const std::size_t count = velocity[axis].size();
    runRanges(count, Shares::Equal, [=](std::size_t begin, std::size_t end) {
      for (std::size_t i = begin; i < end; ++i) across[i] = 2 * kept[i] - across[i];
    });
  }
}

std::size_t resetEndless(GasChannel& channel) {
  std::size_t count = 0;
  for (float& value : channel)
    if (!std::isfinite(value)) {
      value = 0;
      ++count;
    }
  return count;
}

std::size_t resetEndless(GasState& state) {
  std::size_t count = resetEndless(state.density) + resetEndless(state.temperature);
  for (GasChannel& across : state.velocity) count += resetEndless(across);
  return count;
}

}  // namespace

double largestSpeed(const GasGrid& grid, const GasVelocity& velocity) {
  double squares = 0;
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const GridLayout faces = grid.faces(axis);
    std::vector<float> most(faces.counts[2]);
    parallelFor(faces.counts[2], [&](std::size_t z) {
      float found = 0;
      for (std::size_t i = z * faces.plane(); i < (z + 1) * faces.plane(); ++i)
        found = std::max(found, std::abs(velocity[axis][i]));
      most[z] = found;
    });
    const double found = *std::max_element(most.begin(), most.end());
    squares += found * found;
  }
  return std::sqrt(squares);
}

void addBuoyancy(const GasGrid& grid, const GasMotion& motion, double seconds, GasState& state) {
  if (motion.buoyancy == 0 && motion.weight == 0) return;
  const GridLayout cells = grid.cells(), faces = grid.faces(1);
  const auto lift = static_cast<float>(motion.buoyancy * seconds);
  const auto weight = static_cast<float>(motion.weight * seconds);
  parallelFor(faces.counts[2], [&](std::size_t z) {
    for (std::size_t y = 0; y < faces.counts[1]; ++y)
      for (std::size_t x = 0; x < faces.counts[0]; ++x) {
        const std::size_t below = cells.index(x, y > 0 ? y - 1 : 0, z);
        const std::size_t above = cells.index(x, std::min(y, grid.counts[1] - 1), z);
        state.velocity[1][faces.index(x, y, z)] +=
            0.5F * (lift * (state.temperature[below] + state.temperature[above]) -
                    weight * (state.density[below] + state.density[above]));
      }
  });
}

void confineVorticity(const GasGrid& grid, double strength, double seconds, GasVelocity& velocity) {
  if (strength == 0) return;
  const GridLayout cells = grid.cells();
  const VoxelVectors middle = middleVelocities(grid, velocity);
  VoxelVectors curl = voxelVectors(cells), push = voxelVectors(cells);
  UntouchedVector<float> strengths(cells.size());
  const RowSlope slope(grid);
  forRows(cells, [&](std::size_t y, std::size_t z) {
    std::vector<float> up, down;
    const std::size_t start = cells.index(0, y, z);
    for (std::size_t axis = 0; axis < 3; ++axis) {
      const std::size_t one = (axis + 1) % 3, other = (axis + 2) % 3;
      slope.along(one, middle[other].data(), y, z, up);
      slope.along(other, middle[one].data(), y, z, down);
      for (std::size_t x = 0; x < cells.counts[0]; ++x) curl[axis][start + x] = up[x] - down[x];
    }
    for (std::size_t i = start; i < start + cells.counts[0]; ++i)
      strengths[i] = std::sqrt(curl[0][i] * curl[0][i] + curl[1][i] * curl[1][i] + curl[2][i] * curl[2][i]);
  });
  const auto scale = static_cast<float>(strength * grid.voxel * seconds);
  forRows(cells, [&](std::size_t y, std::size_t z) {
    std::array<std::vector<float>, 3> towards;
    for (std::size_t axis = 0; axis < 3; ++axis) slope.along(axis, strengths.data(), y, z, towards[axis]);
    const std::size_t start = cells.index(0, y, z);
    for (std::size_t x = 0; x < cells.counts[0]; ++x) {
      const float a = towards[0][x], b = towards[1][x], c = towards[2][x];
      const float length = std::sqrt(a * a + b * b + c * c);
      const float unit = length > 1e-12F ? scale / length : 0.0F;
      const std::size_t i = start + x;
      push[0][i] = unit * (b * curl[2][i] - c * curl[1][i]);
      push[1][i] = unit * (c * curl[0][i] - a * curl[2][i]);
      push[2][i] = unit * (a * curl[1][i] - b * curl[0][i]);
    }
  });
  addToFaces(grid, push, velocity);
}

GasStepReport stepGas(const GasGrid& grid, PressureSolver& solver, const GasMotion& motion, double seconds,
                      const GasChannel& expansion, const GasPush& push, GasState& state,
                      const Progress& progress) {
  GasStepReport report;
  report.resetVoxels = resetEndless(state);
  const double voxels = largestSpeed(grid, state.velocity) * seconds / grid.voxel;
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
    fade(grid.cells(), state.density, std::exp(-motion.dissipation * half));
    fade(grid.cells(), state.temperature, std::exp(-motion.cooling * half));
    flow = state.velocity;
    const PressureResult pressure =
        solver.project(flow, expansion, motion.tolerance, motion.mostRounds, progress);
    report.rounds += pressure.rounds;
    report.divergenceLeft = pressure.residual;
    report.isReached = report.isReached && pressure.isReached;
    if (i % 2 == 0)
      reflect(flow, state.velocity);
    else
      state.velocity = flow;
  }
  return report;
}

}  // namespace comet
