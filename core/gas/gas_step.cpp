#include "gas/gas_step.h"

#include "base/parallel.h"
#include "gas/advect.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr double kMostPairs = 8;

// Velocities at the voxels' middles.
std::vector<Vec3> middleVelocities(const GasGrid& grid, const GasVelocity& velocity) {
  const GridLayout cells = grid.cells();
  std::vector<Vec3> result(cells.size());
  parallelFor(cells.counts[2], [&](std::size_t z) {
    for (std::size_t y = 0; y < cells.counts[1]; ++y)
      for (std::size_t x = 0; x < cells.counts[0]; ++x)
        for (std::size_t axis = 0; axis < 3; ++axis) {
          const GridLayout faces = grid.faces(axis);
          const std::size_t below = faces.index(x, y, z);
          result[cells.index(x, y, z)][static_cast<int>(axis)] =
              0.5F * (velocity[axis][below] + velocity[axis][below + stepAlong(faces, axis)]);
        }
  });
  return result;
}

// The change of a channel from voxel to voxel at each of them, per unit; one-sided at walls.
template <typename Of>
auto slope(const GasGrid& grid, const std::array<std::size_t, 3>& at, std::size_t axis, const Of& of) {
  const GridLayout cells = grid.cells();
  const std::size_t i = cells.index(at[0], at[1], at[2]), step = stepAlong(cells, axis);
  const std::size_t below = at[axis] > 0 ? i - step : i,
                    above = at[axis] + 1 < grid.counts[axis] ? i + step : i;
  const float between = static_cast<float>(grid.voxel) * static_cast<float>((above - below) / step);
  return (of(above) - of(below)) * (between > 0 ? 1 / between : 0.0F);
}

void fade(const GridLayout& layout, GasChannel& channel, double factor) {
  if (factor == 1) return;
  const auto kept = static_cast<float>(factor);
  parallelFor(layout.counts[2], [&](std::size_t z) {
    for (std::size_t i = z * layout.plane(); i < (z + 1) * layout.plane(); ++i) channel[i] *= kept;
  });
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
  const std::vector<Vec3> middle = middleVelocities(grid, velocity);
  std::vector<Vec3> curl(cells.size()), push(cells.size());
  const auto forVoxels = [&](const auto& act) {
    parallelFor(cells.counts[1] * cells.counts[2], [&](std::size_t row) {
      const std::size_t y = row % cells.counts[1], z = row / cells.counts[1];
      for (std::size_t x = 0; x < cells.counts[0]; ++x) act(std::array<std::size_t, 3>{x, y, z});
    });
  };
  const auto velocityOf = [&](std::size_t i) { return middle[i]; };
  forVoxels([&](const std::array<std::size_t, 3>& at) {
    const Vec3 x = slope(grid, at, 0, velocityOf), y = slope(grid, at, 1, velocityOf),
               z = slope(grid, at, 2, velocityOf);
    curl[cells.index(at[0], at[1], at[2])] = Vec3(y.z - z.y, z.x - x.z, x.y - y.x);
  });
  const auto strengthOf = [&](std::size_t i) { return glm::length(curl[i]); };
  const auto scale = static_cast<float>(strength * grid.voxel * seconds);
  forVoxels([&](const std::array<std::size_t, 3>& at) {
    const Vec3 towards(slope(grid, at, 0, strengthOf), slope(grid, at, 1, strengthOf),
                       slope(grid, at, 2, strengthOf));
    const float length = glm::length(towards);
    const std::size_t i = cells.index(at[0], at[1], at[2]);
    push[i] = length > 1e-12F ? glm::cross(towards / length, curl[i]) * scale : Vec3(0.0F);
  });
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const GridLayout faces = grid.faces(axis);
    parallelFor(faces.counts[2], [&](std::size_t z) {
      for (std::size_t y = 0; y < faces.counts[1]; ++y)
        for (std::size_t x = 0; x < faces.counts[0]; ++x) {
          std::array<std::size_t, 3> below{x, y, z}, above{x, y, z};
          if (below[axis] > 0) --below[axis];
          above[axis] = std::min(above[axis], grid.counts[axis] - 1);
          velocity[axis][faces.index(x, y, z)] +=
              0.5F * (push[cells.index(below[0], below[1], below[2])][static_cast<int>(axis)] +
                      push[cells.index(above[0], above[1], above[2])][static_cast<int>(axis)]);
        }
    });
  }
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
