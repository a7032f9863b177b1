// Boxes of gas for tests.
#pragma once

#include "base/random.h"
#include "gas/gas_solids.h"
#include "gas/pressure.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace comet::test {

inline GasGrid closedBox(std::size_t x, std::size_t y, std::size_t z, double voxel = 1) {
  return {{x, y, z}, voxel, Vec3d(0.0), {}};
}

inline GasGrid openAbove(std::size_t x, std::size_t y, std::size_t z, double voxel = 1) {
  GasGrid grid = closedBox(x, y, z, voxel);
  grid.open[1][1] = true;
  return grid;
}

// A ball at rest.
inline GasSolids ballIn(const GasGrid& grid, const Vec3d& middle, double radius,
                        const Vec3d& velocity = Vec3d(0.0)) {
  return solidsOf(
      grid, [=](const Vec3d& at) { return glm::length(at - middle) - radius; },
      [=](const Vec3d&) { return velocity; });
}

// From -1 to 1, always the same.
inline void fillAtRandom(GasChannel& channel, std::uint64_t key) {
  const RandomSource random(key);
  for (std::size_t i = 0; i < channel.size(); ++i)
    channel[i] = static_cast<float>(random.signedUnit(i, Draw::ShapeA));
}

inline GasVelocity randomVelocity(const GasGrid& grid) {
  GasVelocity velocity = emptyGas(grid).velocity;
  for (std::size_t axis = 0; axis < 3; ++axis) fillAtRandom(velocity[axis], axis + 1);
  return velocity;
}

inline double largestOf(const GasChannel& channel) {
  double max = 0;
  for (const float value : channel) max = std::max(max, std::abs(static_cast<double>(value)));
  return max;
}

inline double sumOf(const GasChannel& channel) {
  double sum = 0;
  for (const float value : channel) sum += static_cast<double>(value);
  return sum;
}

}  // namespace comet::test
