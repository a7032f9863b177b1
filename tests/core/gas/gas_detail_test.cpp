#include "gas/gas_detail.h"

#include <cmath>
#include <gtest/gtest.h>

namespace comet {
namespace {

GasGrid boxOf(std::array<std::size_t, 3> counts) { return {counts, 0.5, Vec3d(-1, 2, 3), {}}; }

// The velocity of(place) across all faces.
template <typename Of>
GasVelocity flowOf(const GasGrid& grid, const Of& of) {
  GasVelocity flow;
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const GridLayout faces = grid.faces(axis);
    flow[axis].resize(faces.size());
    for (std::size_t z = 0; z < faces.counts[2]; ++z)
      for (std::size_t y = 0; y < faces.counts[1]; ++y)
        for (std::size_t x = 0; x < faces.counts[0]; ++x) {
          Vec3d place = grid.middleOf(x, y, z);
          place[static_cast<int>(axis)] -= 0.5 * grid.voxel;
          flow[axis][faces.index(x, y, z)] = static_cast<float>(of(place)[static_cast<int>(axis)]);
        }
  }
  return flow;
}

TEST(GasDetail, FinerVoxelsFillTheSameBox) {
  const GasGrid grid = boxOf({4, 6, 5}), finer = finerGrid(grid, 3);
  EXPECT_EQ(finer.counts, (std::array<std::size_t, 3>{12, 18, 15}));
  for (int axis = 0; axis < 3; ++axis) {
    EXPECT_NEAR(finer.size()[axis], grid.size()[axis], 1e-12);
    EXPECT_NEAR(finer.corner[axis], grid.corner[axis], 1e-12);
  }
  const GasGrid flat = finerGrid(boxOf({4, 6, 1}), 2);
  EXPECT_EQ(flat.counts[2], 1U) << "flat gas stays one voxel thick";
  EXPECT_NEAR(flat.middle().z, boxOf({4, 6, 1}).middle().z, 1e-12);
}

TEST(GasDetail, WhatIsAveragedDownIsWhatWasThere) {
  const GasGrid grid = boxOf({4, 3, 5}), finer = finerGrid(grid, 2);
  GasChannel channel(finer.cells().size());
  const auto of = [](const Vec3d& at) { return 1 + 2 * at.x - at.y + 0.5 * at.z; };
  for (std::size_t i = 0; i < channel.size(); ++i) channel[i] = static_cast<float>(of(finer.middleOf(i)));
  const GasChannel means = averagedDown(finer, channel, grid);
  for (std::size_t i = 0; i < means.size(); ++i)
    EXPECT_NEAR(static_cast<double>(means[i]), of(grid.middleOf(i)), 1e-5);
}

TEST(GasDetail, AFlowThatTurnsNowhereGetsNoSwirls) {
  const GasGrid grid = boxOf({8, 8, 8}), finer = finerGrid(grid, 2);
  const auto of = [](const Vec3d& at) { return Vec3d(2 + at.x, 1 - at.y, -1); };
  const GasVelocity flow = detailFlow(grid, flowOf(grid, of), finer, {.strength = 1});
  const GasVelocity wanted = flowOf(finer, of);
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const GridLayout faces = finer.faces(axis);
    for (std::size_t z = 2; z + 3 < faces.counts[2]; ++z)
      for (std::size_t y = 2; y + 3 < faces.counts[1]; ++y)
        for (std::size_t x = 2; x + 3 < faces.counts[0]; ++x) {
          const std::size_t i = faces.index(x, y, z);
          ASSERT_NEAR(flow[axis][i], wanted[axis][i], 1e-3F) << axis << " " << x << " " << y << " " << z;
        }
  }
}

TEST(GasDetail, SwirlsAreAsStrongAsTheFlowTurns) {
  const GasGrid grid = boxOf({24, 24, 24}), finer = finerGrid(grid, 2);
  const auto swirls = [&](double rate, double seconds) {
    const auto of = [&](const Vec3d& at) { return rate * Vec3d(-(at.y - 8), at.x - 5, 0); };
    const GasVelocity flow = flowOf(grid, of);
    const GasVelocity plain = detailFlow(grid, flow, finer, {.strength = 0});
    const GasVelocity swirling = detailFlow(grid, flow, finer, {.strength = 1, .seconds = seconds});
    double squares = 0;
    for (std::size_t axis = 0; axis < 3; ++axis)
      for (std::size_t i = 0; i < plain[axis].size(); ++i)
        squares += std::pow(static_cast<double>(swirling[axis][i] - plain[axis][i]), 2);
    return std::sqrt(squares / static_cast<double>(finer.cells().size()));
  };
  // Vorticity is twice the rate. What lies on faces is mixed from two voxels, which takes some of it away.
  const double expected = 0.56 * 0.5 * 2 * 3 * grid.voxel;
  EXPECT_LT(swirls(3, 0.1), 1.1 * expected);
  EXPECT_GT(swirls(3, 0.1), 0.5 * expected);
  EXPECT_NEAR(swirls(6, 0.1), 2 * swirls(3, 0.1), 0.1 * expected);
  EXPECT_NEAR(swirls(3, 0.17), swirls(3, 0.1), 0.1 * expected) << "they come and go, but all in all stay";
}

}  // namespace
}  // namespace comet
