// Parts of a gas as they are shown: planes, arrows and bricks at places that are known.
#include "gas/gas_views.h"

#include "core/gas/gas_boxes.h"
#include "gas/smoothed.h"

namespace comet {
namespace {

// Density x + 100 y + 10000 z at each voxel of 6 × 5 × 4, and air that moves at 3 units a second upwards.
PackedGas numbered(double timeScale = 1) {
  const GasGrid grid = test::closedBox(6, 5, 4, 0.5);
  GasState state = emptyGas(grid, {.age = true});
  for (std::size_t z = 0; z < 4; ++z)
    for (std::size_t y = 0; y < 5; ++y)
      for (std::size_t x = 0; x < 6; ++x) {
        const std::size_t i = grid.cells().index(x, y, z);
        state.density[i] = static_cast<float>(1 + x + 8 * y + 64 * z);
        state.age[i] = state.density[i] * 0.25F * static_cast<float>(x);
      }
  state.velocity[1].assign(state.velocity[1].size(), 3.0F);
  return {grid, state, timeScale};
}

TEST(GasViews, SlicesHoldAPlaneInItsPlace) {
  const GasSlice slice = gasSlice(numbered(), GasQuantity::Density, 1, 2);
  EXPECT_EQ(slice.counts, (std::array<std::size_t, 2>{4, 6})) << "along z and x";
  ASSERT_EQ(slice.values.size(), 24U);
  EXPECT_EQ(slice.values[4 * 5 + 3], 1 + 5 + 8 * 2 + 64 * 3);
  EXPECT_EQ(slice.min, 1);
  EXPECT_EQ(slice.max, 1 + 5 + 8 * 4 + 64 * 3) << "of the whole gas, so that planes can be compared";
  EXPECT_EQ(slice.corner, Vec3d(0, 1.25, 0));
  EXPECT_EQ(slice.along, Vec3d(0, 0, 2));
  EXPECT_EQ(slice.across, Vec3d(3, 0, 0));
  EXPECT_EQ(gasSlice(numbered(), GasQuantity::Age, 2, 99).plane, 3U) << "no farther than the last";
  EXPECT_NEAR(gasSlice(numbered(), GasQuantity::Age, 2, 1).values[4], 1.0, 1e-3);
  EXPECT_NEAR(gasSlice(numbered(2), GasQuantity::Speed, 2, 1).values[6 * 2 + 4], 6, 1e-6)
      << "by the time of the scene";
}

TEST(GasViews, ArrowsAreSpreadOverThePlane) {
  const std::vector<GasArrow> arrows = gasArrows(numbered(), 2, 1, 3);
  ASSERT_EQ(arrows.size(), 6U) << "every second voxel of 6 × 5";
  for (const GasArrow& arrow : arrows) {
    EXPECT_EQ(arrow.place.z, 0.75);
    EXPECT_EQ(arrow.velocity, Vec3d(0, 3, 0));
  }
  EXPECT_EQ(arrows[1].place.x - arrows[0].place.x, 1.0);
}

TEST(Smoothed, KeepsStraightSlopesAndAThirdOfTheFinestWaves) {
  const GridLayout layout{{9, 1, 7}};
  GasChannel slope(layout.size()), wave(layout.size());
  for (std::size_t i = 0; i < slope.size(); ++i) {
    slope[i] = static_cast<float>(2 * (i % 9) + 3 * (i / 9));
    wave[i] = i % 9 % 2 == 0 ? 1.0F : -1.0F;
  }
  const GasChannel smoothSlope = smoothed(layout, slope), smoothWave = smoothed(layout, wave);
  for (std::size_t z = 1; z < 6; ++z)
    for (std::size_t x = 1; x < 8; ++x) {
      const std::size_t i = layout.index(x, 0, z);
      EXPECT_NEAR(smoothSlope[i], slope[i], 1e-5);
      EXPECT_NEAR(smoothWave[i], wave[i] / 3, 1e-6);
    }
}

TEST(GasViews, BricksAreThoseThatHoldGas) {
  const GasGrid grid = test::closedBox(20, 8, 8, 0.5);
  GasState state = emptyGas(grid);
  EXPECT_TRUE(filledBricks(PackedGas(grid, state)).empty());
  state.density[grid.cells().index(7, 3, 3)] = 1;
  state.density[grid.cells().index(19, 0, 0)] = 1;
  const std::vector<GasBrick> bricks = filledBricks(PackedGas(grid, state));
  ASSERT_EQ(bricks.size(), 2U);
  EXPECT_EQ(bricks[0].min, Vec3d(0, 0, 0));
  EXPECT_EQ(bricks[0].max, Vec3d(4, 4, 4));
  EXPECT_EQ(bricks[1].min, Vec3d(8, 0, 0));
  EXPECT_EQ(bricks[1].max, Vec3d(10, 4, 4)) << "cut off at the end of the box";
}

}  // namespace
}  // namespace comet
