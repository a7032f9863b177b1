// Particles that are pushed apart, each against the mechanics of balls.
#include "simulation/contacts/contact_solver.h"

#include <glm/geometric.hpp>
#include <gtest/gtest.h>
#include <numbers>
#include <rapidcheck.h>
#include <rapidcheck/gtest.h>
#include <set>

namespace comet {
namespace {

constexpr double kStep = 1.0 / 240;

ContactRule smooth() {
  ContactRule rule;
  rule.support = 0.8;
  return rule;
}

// Balls of a radius of 0.5 and a mass of 1, at rest and free.
ContactBodies balls(const std::vector<Vec3>& places) {
  ContactBodies bodies(places.size());
  for (std::size_t i = 0; i < places.size(); ++i) {
    bodies.starts[i] = bodies.places[i] = places[i];
    bodies.halfSizes[i] = 0.5F;
    bodies.inverseMasses[i] = 1;
  }
  return bodies;
}

// Lets them fly and meet for so many steps.
void goOn(ContactBodies& bodies, const ContactRule& rule, int steps) {
  ContactSolver solver(rule);
  const std::vector<float> firmness(bodies.size(), 1.0F);
  for (int step = 0; step < steps; ++step) {
    for (std::size_t i = 0; i < bodies.size(); ++i) {
      bodies.starts[i] = bodies.places[i];
      bodies.places[i] += bodies.velocities[i] * static_cast<float>(kStep);
    }
    solver.solve(bodies, firmness, kStep);
  }
}

Vec3d momentumOf(const ContactBodies& bodies) {
  Vec3d sum(0.0);
  for (std::size_t i = 0; i < bodies.size(); ++i)
    sum += Vec3d(bodies.velocities[i]) / static_cast<double>(bodies.inverseMasses[i]);
  return sum;
}

// About the origin: of their ways, and of their own turning.
Vec3d angularMomentumOf(const ContactBodies& bodies) {
  Vec3d sum(0.0);
  for (std::size_t i = 0; i < bodies.size(); ++i) {
    const double mass = 1 / static_cast<double>(bodies.inverseMasses[i]),
                 radius = static_cast<double>(bodies.halfSizes[i]);
    sum += mass * glm::cross(Vec3d(bodies.places[i]), Vec3d(bodies.velocities[i])) +
           0.4 * mass * radius * radius * Vec3d(bodies.rolls[i]);
  }
  return sum;
}

double energyOf(const ContactBodies& bodies) {
  double sum = 0;
  for (std::size_t i = 0; i < bodies.size(); ++i) {
    const Vec3d velocity(bodies.velocities[i]), roll(bodies.rolls[i]);
    const double radius = static_cast<double>(bodies.halfSizes[i]);
    sum += 0.5 * (glm::dot(velocity, velocity) + 0.4 * radius * radius * glm::dot(roll, roll)) /
           static_cast<double>(bodies.inverseMasses[i]);
  }
  return sum;
}

// Two that meet head on, of masses 1 and 3 and speeds 2 and -1, have a common velocity of -0.25.
TEST(ContactSolver, HeadOnVelocitiesAreThoseOfTheTextbook) {
  for (const double bounce : {0.0, 0.5, 1.0}) {
    ContactBodies bodies = balls({{-1, 0, 0}, {1, 0, 0}});
    bodies.velocities = {{2, 0, 0}, {-1, 0, 0}};
    bodies.inverseMasses[1] = 1.0F / 3;
    ContactRule rule = smooth();
    rule.bounce = bounce;
    goOn(bodies, rule, 240);
    EXPECT_NEAR(bodies.velocities[0].x, -0.25 - bounce * 3 * 0.75, 2e-3) << bounce;
    EXPECT_NEAR(bodies.velocities[1].x, -0.25 + bounce * 0.75, 2e-3) << bounce;
  }
}

// Where friction is high enough, a ball that slides over another without turning ends rolling on it: of the
// sliding speed two sevenths go to each ball's way, half to each of two, and the rest into turning.
TEST(ContactSolver, FrictionMakesBallsRollOnEachOther) {
  ContactBodies bodies = balls({{0, 0, 0}, {0, 0.999F, 0}});
  bodies.velocities = {{0, 0.2F, 0}, {1, -0.2F, 0}};
  ContactRule rule;
  rule.friction = rule.staticFriction = 100;
  goOn(bodies, rule, 1);
  const Vec3 contact = bodies.velocities[1] - bodies.velocities[0] +
                       glm::cross(bodies.rolls[1], Vec3(0, -0.5F, 0)) -
                       glm::cross(bodies.rolls[0], Vec3(0, 0.5F, 0));
  EXPECT_NEAR(contact.x, 0, 1e-3) << "where they touch nothing slides any more";
  EXPECT_NEAR(bodies.velocities[0].x, 1.0 / 7, 5e-3);
  EXPECT_NEAR(bodies.velocities[1].x, 6.0 / 7, 5e-3);
  EXPECT_NEAR(bodies.rolls[0].z, bodies.rolls[1].z, 1e-3);
}

// By Coulomb's law it loses no more than the coefficient times the impulse against it.
TEST(ContactSolver, SlidingFrictionIsCoulombs) {
  for (const double friction : {0.0, 0.1, 0.2}) {
    ContactBodies bodies = balls({{0, 0, 0}, {0, 1, 0}});
    bodies.velocities = {{0, 0, 0}, {1, -0.4F, 0}};
    ContactRule rule;
    rule.friction = rule.staticFriction = friction;
    goOn(bodies, rule, 1);
    EXPECT_NEAR(1 - bodies.velocities[1].x, friction * 0.2, 2e-3) << friction;
  }
}

RC_GTEST_PROP(ContactSolver, KeepsMomentumAndGainsNoEnergy, ()) {
  const auto number = [](int low, int high) {
    return 0.01F * static_cast<float>(*rc::gen::inRange(100 * low, 100 * high));
  };
  std::vector<Vec3> places(static_cast<std::size_t>(*rc::gen::inRange(2, 40)));
  for (Vec3& place : places) place = {number(-2, 2), number(-2, 2), number(-2, 2)};
  ContactBodies bodies = balls(places);
  for (std::size_t i = 0; i < bodies.size(); ++i) {
    bodies.halfSizes[i] = 0.1F + 0.1F * number(0, 4);
    bodies.inverseMasses[i] = 1 / (1 + number(0, 4));
    bodies.velocities[i] = {number(-3, 3), number(-3, 3), number(-3, 3)};
  }
  ContactRule rule = smooth();
  rule.friction = 0.1 * *rc::gen::inRange(0, 10);
  rule.staticFriction = 1.5 * rule.friction;
  rule.bounce = 0.1 * *rc::gen::inRange(0, 11);
  const Vec3d before = momentumOf(bodies);
  goOn(bodies, rule, 1);
  // From here on no two overlap by more than they may have come together in one step.
  const double scale = 1 + 10 * static_cast<double>(bodies.size());
  RC_ASSERT(glm::length(momentumOf(bodies) - before) < 1e-4 * scale);
}

// Friction acts where two touch, which is not at their middles: it must not turn the whole.
TEST(ContactSolver, AnObliqueHitKeepsAngularMomentum) {
  ContactBodies bodies = balls({{-1, 0.3F, 0}, {1, -0.3F, 0.2F}});
  bodies.velocities = {{2, 0.1F, 0}, {-1, 0, 0.3F}};
  ContactRule rule = smooth();
  rule.friction = rule.staticFriction = 0.5;
  rule.bounce = 0.5;
  const Vec3d before = angularMomentumOf(bodies);
  const double energy = energyOf(bodies);
  goOn(bodies, rule, 240);
  EXPECT_GT(glm::length(bodies.rolls[0]), 0.1F);
  EXPECT_LT(glm::length(angularMomentumOf(bodies) - before), 0.03 * glm::length(before));
  EXPECT_LT(energyOf(bodies), energy);
}

// Born in the same place they come apart within a moment, and lie still then.
TEST(ContactSolver, WhatIsBornInOnePlaceComesApartWithoutABurst) {
  ContactBodies bodies = balls(std::vector<Vec3>(20, Vec3(1, 2, 3)));
  ContactSolver solver(smooth());
  const std::vector<float> firmness(bodies.size(), 1.0F);
  goOn(bodies, smooth(), 120);
  EXPECT_LT(solver.overlap(bodies, firmness).deepest, 0.02);
  for (std::size_t i = 0; i < bodies.size(); ++i) {
    EXPECT_LT(glm::length(bodies.velocities[i]), 25) << "not the hundreds of an overlap over a step";
    EXPECT_LT(glm::length(bodies.places[i] - Vec3(1, 2, 3)), 13);
  }
}

TEST(ContactSolver, WhatIsHeldStaysAndWhatTakesNoPartIsPassed) {
  ContactBodies bodies = balls({{0, 0, 0}, {0.9F, 0, 0}, {0, 0.8F, 0}});
  bodies.inverseMasses[0] = 0;
  ContactSolver solver(smooth());
  solver.solve(bodies, std::vector<float>{1, 1, 0}, kStep);
  EXPECT_EQ(bodies.places[0], Vec3(0, 0, 0));
  EXPECT_GT(bodies.places[1].x, 0.9F);
  EXPECT_EQ(bodies.places[2], Vec3(0, 0.8F, 0));
  EXPECT_EQ(bodies.touched[2], 0);
}

TEST(ContactSolver, APlaceThatIsNoNumberHarmsNobody) {
  ContactBodies bodies = balls({{0, 0, 0}, {std::numeric_limits<float>::quiet_NaN(), 0, 0}, {0.9F, 0, 0}});
  ContactSolver(smooth()).solve(bodies, std::vector<float>{1, 1, 1}, kStep);
  EXPECT_LT(bodies.places[0].x, 0);
  EXPECT_GT(bodies.places[2].x, 0.9F);
}

// Each pair that touches is found once, whatever the sizes.
RC_GTEST_PROP(ContactPairs, ListsEachPairThatMayTouchOnce, ()) {
  const auto number = [] { return 0.01F * static_cast<float>(*rc::gen::inRange(-300, 300)); };
  std::vector<Vec3> places(static_cast<std::size_t>(*rc::gen::inRange(0, 120)));
  std::vector<float> radii;
  for (Vec3& place : places) {
    place = {number(), 0.3F * number(), number()};
    radii.push_back(0.1F * static_cast<float>(*rc::gen::inRange(0, 6)));
  }
  constexpr float kReserve = 0.05F;
  ContactPairs pairs;
  pairs.list(places, radii, kReserve);
  std::set<std::pair<std::uint32_t, std::uint32_t>> listed;
  for (std::size_t slab = 0; slab < pairs.slabs().size(); ++slab) {
    const ContactPairs::Slab& own = pairs.slabs()[slab];
    const std::uint32_t next = slab + 1 < pairs.slabs().size() ? pairs.slabs()[slab + 1].last : own.last;
    for (std::uint32_t i = own.first; i < own.last; ++i)
      for (const std::uint32_t j : own.of(i)) {
        RC_ASSERT(j > i && j < next);
        const auto [a, b] = std::minmax(pairs.order()[i], pairs.order()[j]);
        RC_ASSERT(listed.emplace(a, b).second);
      }
  }
  for (std::uint32_t a = 0; a < places.size(); ++a)
    for (std::uint32_t b = a + 1; b < places.size(); ++b)
      if (radii[a] > 0 && radii[b] > 0 &&
          glm::length(places[a] - places[b]) < radii[a] + radii[b] + 2 * kReserve - 1e-4F)
        RC_ASSERT(listed.count({a, b}) == 1U);
}

}  // namespace
}  // namespace comet
