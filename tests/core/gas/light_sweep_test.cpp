// Light on its way through gas, against the law of Beer and Lambert along straight lines.
#include "gas/light_sweep.h"

#include "core/gas/gas_boxes.h"
#include "gas/gas_march.h"

#include <glm/geometric.hpp>

namespace comet {
namespace {

using test::closedBox;

GasLook clearLook() {
  GasLook look;
  look.extinction = LookTable<float>(10.0F, [](float x) { return x; });
  return look;
}

Light pointAt(const Vec3d& place) {
  Light light;
  light.point = {place, Falloff::InverseSquare, 1, 1};
  return light;
}

// How far the way from a light to a point goes through the box.
double wayThrough(const GasGrid& grid, const Vec3d& light, const Vec3d& at) {
  double begin = 0, end = 1;
  for (int axis = 0; axis < 3; ++axis) {
    const double way = at[axis] - light[axis];
    if (way == 0) continue;
    const double a = (grid.corner[axis] - light[axis]) / way;
    const double b = (grid.corner[axis] + grid.size()[axis] - light[axis]) / way;
    begin = std::max(begin, std::min(a, b));
    end = std::min(end, std::max(a, b));
  }
  return std::max(0.0, end - begin) * glm::length(at - light);
}

TEST(LightSweep, OfAPlaceFadesAlongStraightLinesInEvenFog) {
  const GasGrid grid = closedBox(30, 26, 22, 0.1);
  constexpr float kDense = 0.9F;
  const GasChannel fog(grid.cells().size(), kDense);
  // Inside, in a voxel's middle, at a face, beyond a wall, and far beyond an edge.
  for (const Vec3d& place : {Vec3d(1.41, 1.27, 1.13), Vec3d(0.75, 0.35, 1.85), Vec3d(2, 1, 1),
                             Vec3d(1.2, 3.4, 1), Vec3d(-3, 4, 0.7)}) {
    const GasChannel reached = lightThrough(grid, fog, clearLook(), pointAt(place));
    for (std::size_t i = 0; i < reached.size(); ++i) {
      const double exact = std::exp(-static_cast<double>(kDense) * wayThrough(grid, place, grid.middleOf(i)));
      // A wall lies anywhere between two planes: half the way through a voxel may be missing.
      ASSERT_NEAR(reached[i], exact, 0.08) << place.x << " " << place.y << ", voxel " << i;
    }
  }
}

// Mixing between voxels is not exact near the light, where what reaches them is curved.
TEST(LightSweep, AlmostFollowsTheLawInTheBoxThatTheLightIsIn) {
  const GasGrid grid = closedBox(40, 40, 40, 0.05);
  const GasChannel fog(grid.cells().size(), 1.2F);
  const Vec3d place(0.93, 1.13, 0.78);
  const GasChannel reached = lightThrough(grid, fog, clearLook(), pointAt(place));
  for (std::size_t i = 0; i < reached.size(); ++i)
    ASSERT_NEAR(reached[i], std::exp(-1.2 * glm::length(grid.middleOf(i) - place)), 0.004) << i;
}

TEST(LightSweep, ABallThrowsItsShadowAwayFromTheLight) {
  const GasGrid grid = closedBox(48, 48, 48, 1);
  const Vec3d light(10.3, 24.2, 22.9), ball(22, 22, 26);
  constexpr double kRadius = 5;
  GasChannel dense(grid.cells().size(), 0.0F);
  for (std::size_t i = 0; i < dense.size(); ++i)
    dense[i] = glm::length(grid.middleOf(i) - ball) < kRadius ? 2.0F : 0.0F;
  const GasChannel reached = lightThrough(grid, dense, clearLook(), pointAt(light));
  int dark = 0, bright = 0;
  for (std::size_t i = 0; i < reached.size(); ++i) {
    const Vec3d way = grid.middleOf(i) - light;
    const double along = std::clamp(glm::dot(ball - light, way) / glm::dot(way, way), 0.0, 1.0);
    const double misses = glm::length(light + way * along - ball);
    // Interpolation blurs the shadow's rim, the more the farther it is.
    if (misses > kRadius + 4) {
      ASSERT_NEAR(reached[i], 1, 0.02) << i;
      ++bright;
    }
    if (misses < kRadius - 3 && along < 1) {
      ASSERT_NEAR(reached[i], 0, 0.02) << i;
      ++dark;
    }
  }
  EXPECT_GT(dark, 300);
  EXPECT_GT(bright, 30000);
}

TEST(LightSweep, OfAPlaceFarAwayIsThatOfItsDirection) {
  const GasGrid grid = closedBox(20, 24, 16, 0.1);
  GasChannel uneven(grid.cells().size(), 0.0F);
  test::fillAtRandom(uneven, 7);
  for (float& value : uneven) value = std::abs(value);
  const Vec3d towards = glm::normalize(Vec3d(0.4, 1, -0.3));
  Light far;
  far.towards = towards;
  const GasChannel one = lightThrough(grid, uneven, clearLook(), far);
  const GasChannel other = lightThrough(grid, uneven, clearLook(), pointAt(grid.middle() + 1e4 * towards));
  for (std::size_t i = 0; i < one.size(); ++i) ASSERT_NEAR(one[i], other[i], 2e-3) << i;
}

// Thin gas of one density sends to a ray what arrives at each of its points, by the inverse square.
TEST(LightSweep, ThinGasSendsWhatArrivesFromAPlace) {
  const GasGrid grid = closedBox(40, 40, 40, 0.1);
  GasState state = emptyGas(grid);
  constexpr double kThin = 1e-3;
  state.density.assign(state.density.size(), static_cast<float>(kThin));
  GasLook look = clearLook();
  look.ambient = Vec3(0.0F);
  look.color = LookTable<Vec3>(1.0F, [](float) { return Vec3(1.0F); });
  Light light = pointAt(Vec3d(2, 2.7, 2));
  light.color = Vec3(3, 2, 1);
  light.point->full = 0.2;
  for (const bool isShadowed : {true, false}) {
    light.isShadowed = isShadowed;
    const GasMarch march(grid, state, look, {light}, 0.25);
    const GasRay ray = march.along(Vec3d(2, 2, -1), Vec3d(0, 0, 1), 100);
    // The integral of 0.2² / (0.7² + z²) from -2 to 2.
    const double arrives = 0.04 / 0.7 * 2 * std::atan(2 / 0.7);
    EXPECT_NEAR(ray.light.x, 3 * kThin * arrives, 3e-2 * 3 * kThin * arrives);
    EXPECT_NEAR(ray.light.y / ray.light.x, 2.0 / 3, 1e-5);
  }
  // Sent on ahead only: the gas between light and viewer is bright, that beyond the light is dark.
  look.anisotropy = 0.8F;
  const GasMarch march(grid, state, look, {light}, 0.25);
  EXPECT_GT(march.sentOn(0, Vec3d(2, 2.7, 1.5), Vec3d(0, 0, 1)),
            20 * march.sentOn(0, Vec3d(2, 2.7, 2.5), Vec3d(0, 0, 1)));
}

}  // namespace
}  // namespace comet
