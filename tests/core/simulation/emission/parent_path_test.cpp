#include "simulation/emission/parent_path.h"

#include <glm/geometric.hpp>
#include <gtest/gtest.h>

namespace comet {
namespace {

constexpr double kParentStep = 1 / 24.0;
const Vec3d kStart(1, 2, 3), kVelocity(4, 6, -2), kAcceleration(0, -9.81, 2);

Vec3d placeAfter(double time) { return kStart + kVelocity * time + 0.5 * kAcceleration * time * time; }

// As it is thrown, from the step's start.
ParentPath thrown() {
  ParentPath path;
  path.id = 42;
  path.end = path.until = kParentStep;
  path.startPosition = Vec3(kStart);
  path.startVelocity = Vec3(kVelocity);
  path.endPosition = Vec3(placeAfter(kParentStep));
  path.endVelocity = Vec3(kVelocity + kAcceleration * kParentStep);
  path.age = 0.5F;
  path.lifetime = 2;
  return path;
}

TEST(ParentPath, IsExactForAThrow) {
  const ParentPath path = thrown();
  for (double time = 0; time <= kParentStep; time += kParentStep / 7) {
    EXPECT_LT(glm::length(path.placeAt(time) - placeAfter(time)), 1e-5);
    EXPECT_LT(glm::length(path.velocityAt(time) - (kVelocity + kAcceleration * time)), 1e-3);
  }
}

TEST(ParentPath, TellsWhatItWasLikeAtABirth) {
  const ParentPath path = thrown();
  const Ancestor then = path.at(kParentStep / 2);
  EXPECT_EQ(then.id, 42U);
  EXPECT_NEAR(then.age, 0.5 + kParentStep / 2, 1e-6);
  EXPECT_EQ(then.lifetime, 2);
  EXPECT_NEAR(then.speed, glm::length(kVelocity + kAcceleration * (kParentStep / 2)), 1e-3);
}

TEST(ParentPath, BeginsLaterForOneThatIsBornInTheStep) {
  ParentPath path = thrown();
  path.from = kParentStep / 2;
  path.age = 0;
  EXPECT_NEAR(path.ageAt(kParentStep), kParentStep / 2, 1e-7);
  EXPECT_LT(glm::length(path.placeAt(kParentStep / 2) - kStart), 1e-6);
}

TEST(ParentPath, LengthsAndMomentsAreInverse) {
  const ParentPath path = thrown();
  // The speed changes by little within a step: nearly speed times time.
  const double whole = lengthUntil(path, kParentStep);
  EXPECT_NEAR(whole, glm::length(kVelocity) * kParentStep, 0.05 * whole);
  for (const double fraction : {0.1, 0.37, 0.5, 0.93}) {
    const double moment = momentAfter(path, fraction * whole);
    EXPECT_GT(moment, 0);
    EXPECT_LT(moment, kParentStep);
    EXPECT_NEAR(lengthUntil(path, moment), fraction * whole, 1e-4 * whole);
  }
}

}  // namespace
}  // namespace comet
