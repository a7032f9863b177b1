#include "simulation/emission/parent_path.h"

#include <glm/geometric.hpp>
#include <gtest/gtest.h>

namespace comet {
namespace {

constexpr double kStep = 1 / 24.0;
const Vec3d kStart(1, 2, 3), kVelocity(4, 6, -2), kAcceleration(0, -9.81, 2);

Vec3d placeAfter(double time) { return kStart + kVelocity * time + 0.5 * kAcceleration * time * time; }

// As it is thrown, from the step's start.
ParentPath thrown() {
  ParentPath way;
  way.id = 42;
  way.end = way.until = kStep;
  way.startPosition = Vec3(kStart);
  way.startVelocity = Vec3(kVelocity);
  way.endPosition = Vec3(placeAfter(kStep));
  way.endVelocity = Vec3(kVelocity + kAcceleration * kStep);
  way.age = 0.5F;
  way.lifetime = 2;
  return way;
}

TEST(ParentPath, IsExactForAThrow) {
  const ParentPath way = thrown();
  for (double time = 0; time <= kStep; time += kStep / 7) {
    EXPECT_LT(glm::length(way.placeAt(time) - placeAfter(time)), 1e-5);
    EXPECT_LT(glm::length(way.velocityAt(time) - (kVelocity + kAcceleration * time)), 1e-3);
  }
}

TEST(ParentPath, TellsWhatItWasLikeAtABirth) {
  const ParentPath way = thrown();
  const Ancestor then = way.at(kStep / 2);
  EXPECT_EQ(then.id, 42U);
  EXPECT_NEAR(then.age, 0.5 + kStep / 2, 1e-6);
  EXPECT_EQ(then.lifetime, 2);
  EXPECT_NEAR(then.speed, glm::length(kVelocity + kAcceleration * (kStep / 2)), 1e-3);
}

TEST(ParentPath, BeginsLaterForOneThatIsBornInTheStep) {
  ParentPath way = thrown();
  way.from = kStep / 2;
  way.age = 0;
  EXPECT_NEAR(way.ageAt(kStep), kStep / 2, 1e-7);
  EXPECT_LT(glm::length(way.placeAt(kStep / 2) - kStart), 1e-6);
}

TEST(ParentPath, LengthsAndMomentsAreInverse) {
  const ParentPath way = thrown();
  // The speed changes by little within a step: nearly speed times time.
  const double whole = lengthUntil(way, kStep);
  EXPECT_NEAR(whole, glm::length(kVelocity) * kStep, 0.05 * whole);
  for (const double share : {0.1, 0.37, 0.5, 0.93}) {
    const double moment = momentAfter(way, share * whole);
    EXPECT_GT(moment, 0);
    EXPECT_LT(moment, kStep);
    EXPECT_NEAR(lengthUntil(way, moment), share * whole, 1e-4 * whole);
  }
}

}  // namespace
}  // namespace comet
