#include "base/noise.h"

#include <glm/geometric.hpp>
#include <rapidcheck.h>

namespace comet {
namespace {

Vec3d anyPlace() {
  const auto number = [] { return *rc::gen::inRange(-50000, 50000) / 1000.0; };
  return {number(), number(), number()};
}

TEST(SmoothNoise, IsZeroAtLatticePoints) {
  for (int i = -5; i < 5; ++i) EXPECT_EQ(smoothNoise(Vec3d(i, 2 * i + 1, -i), 3), 0);
}

TEST(SmoothNoise, StaysInItsRangeAndChangesGently) {
  EXPECT_TRUE(rc::check([] {
    const Vec3d place = anyPlace();
    RC_ASSERT(std::abs(smoothNoise(place, 9)) <= 1.1);
    // Perlin's noise is nowhere steeper than about 4 a cell along a direction.
    const Vec3d step(1e-4, -1e-4, 1e-4);
    RC_ASSERT(std::abs(smoothNoise(place + step, 9) - smoothNoise(place, 9)) < 8e-4);
  }));
}

TEST(SmoothNoise, PatternsAndComponentsDiffer) {
  const Vec3d place(0.3, 0.6, 0.2);
  EXPECT_NE(smoothNoise(place, 1), smoothNoise(place, 2));
  const Vec3d three = smoothNoise3(place, 1);
  EXPECT_NE(three.x, three.y);
  EXPECT_NE(three.y, three.z);
}

TEST(SmoothNoise, HasNoDrift) {
  double sum = 0, squares = 0;
  constexpr int kCount = 20000;
  for (int i = 0; i < kCount; ++i) {
    const double value = smoothNoise(Vec3d(0.137, 0.61, 0.273) * static_cast<double>(i), 5);
    sum += value;
    squares += value * value;
  }
  EXPECT_NEAR(sum / kCount, 0, 0.02);
  EXPECT_GT(squares / kCount, 0.03);
}

}  // namespace
}  // namespace comet
