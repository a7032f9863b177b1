#include "base/light.h"

#include <glm/geometric.hpp>
#include <gtest/gtest.h>

namespace comet {
namespace {

TEST(Light, FadesWithTheDistanceAsItsFalloffSays) {
  PointLight light{Vec3d(0.0), Falloff::InverseSquare, 0.5, 4.5};
  EXPECT_EQ(light.at(0), 1);
  EXPECT_EQ(light.at(0.5), 1);
  EXPECT_DOUBLE_EQ(light.at(1), 0.25);
  EXPECT_DOUBLE_EQ(light.at(5), 0.01);
  light.falloff = Falloff::Linear;
  EXPECT_EQ(light.at(0.5), 1);
  EXPECT_DOUBLE_EQ(light.at(2.5), 0.5);
  EXPECT_EQ(light.at(4.5), 0);
  EXPECT_EQ(light.at(100), 0);
  light.falloff = Falloff::None;
  EXPECT_EQ(light.at(1e6), 1);
  // One that ends where it is full is a step.
  EXPECT_EQ((PointLight{Vec3d(0.0), Falloff::Linear, 2, 2}.at(2)), 1);
  EXPECT_EQ((PointLight{Vec3d(0.0), Falloff::Linear, 2, 2}.at(2.01)), 0);
}

TEST(Light, ComesFromFarAwayOrFromItsPlace) {
  Light light;
  light.towards = Vec3d(0, 1, 0);
  EXPECT_EQ(light.arriving(Vec3d(5, -3, 2)).towards, light.towards);
  EXPECT_EQ(light.arriving(Vec3d(5, -3, 2)).fraction, 1);
  light.point = {Vec3d(1, 2, 3), Falloff::InverseSquare, 1, 1};
  const Light::Arriving arriving = light.arriving(Vec3d(1, 2, 1));
  EXPECT_EQ(arriving.towards, Vec3d(0, 0, 1));
  EXPECT_DOUBLE_EQ(arriving.fraction, 0.25);
  EXPECT_NEAR(glm::length(light.arriving(Vec3d(1, 2, 3)).towards), 1, 1e-12) << "in its very middle";
}

}  // namespace
}  // namespace comet
