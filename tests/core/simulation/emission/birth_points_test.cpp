// Births at fixed places of a shape, in turn.
#include "simulation/emission/birth_points.h"

#include "support/scenes.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <set>

namespace comet {
namespace {

using test::onlyGroup;
using test::simulate;
using test::with;

// Particles that stay where they are born: 3 at each of 8 places of a ring of radius 2.
Scene ringOfPoints(std::initializer_list<std::string> assignments = {}) {
  return with(with(test::oneBurst(24),
                   {"emitter.speed=0", "emitter.shape=ring", "emitter.radius=2", "emitter.birth_points=8"}),
              assignments);
}

double angleOf(const Vec3d& place) { return std::atan2(place.z, place.x); }

// Rounded, so that places can be told apart.
std::set<std::int64_t> placesOf(const ParticleStore& particles) {
  std::set<std::int64_t> places;
  for (std::size_t i = 0; i < particles.size(); ++i)
    places.insert(std::llround(1e4 * angleOf(particles.position(i))));
  return places;
}

TEST(BirthPoints, AreAsManyAsSetAndGiveBirthsInTurn) {
  const SceneFramePtr frame = simulate(ringOfPoints(), 1);
  const ParticleStore& particles = onlyGroup(frame);
  ASSERT_EQ(particles.size(), 24U);
  for (std::size_t i = 0; i < 24; ++i) {
    EXPECT_NEAR(glm::length(particles.position(i)), 2, 1e-5);
    EXPECT_LT(glm::length(particles.position(i) - particles.position(i % 8)), 1e-6) << i;
  }
  EXPECT_EQ(placesOf(particles).size(), 8U);
  EXPECT_NE(placesOf(onlyGroup(simulate(ringOfPoints({"emitter.seed=2"}), 1))), placesOf(particles));
}

TEST(BirthPoints, LieAtEqualAnglesOnARing) {
  const SceneFramePtr frame = simulate(ringOfPoints({"emitter.birth_point_spread=even"}), 1);
  const ParticleStore& particles = onlyGroup(frame);
  for (std::size_t i = 1; i < 8; ++i) {
    const double step = angleOf(particles.position(i)) - angleOf(particles.position(i - 1));
    EXPECT_NEAR(std::abs(std::remainder(step, 2 * kPi)), kPi / 4, 1e-5) << i;
  }
}

// The two nearest of 200 places on a sphere: evenly spread ones keep at least half of the distance that the
// densest packing of caps would have, sqrt(8 pi / (sqrt(3) n)) in its limit (Fejes Tóth, 1943).
TEST(BirthPoints, KeepApartOnASphere) {
  const auto nearest = [](const char* spread) {
    const SceneFramePtr frame =
        simulate(with(test::oneBurst(200), {"emitter.speed=0", "emitter.shape=sphere", "emitter.radius=1",
                                            "emitter.emit_from=surface", "emitter.birth_points=200", spread}),
                 1);
    const ParticleStore& particles = onlyGroup(frame);
    double least = 2;
    for (std::size_t i = 0; i < particles.size(); ++i)
      for (std::size_t k = 0; k < i; ++k)
        least = std::min(least, glm::length(particles.position(i) - particles.position(k)));
    return least;
  };
  const double densest = std::sqrt(8 * kPi / (std::sqrt(3.0) * 200));
  EXPECT_GT(nearest("emitter.birth_point_spread=even"), 0.5 * densest);
  EXPECT_LT(nearest("emitter.birth_point_spread=random"), 0.25 * densest);
}

TEST(BirthPoints, TurnWithTheirShape) {
  // A quarter turn in 24 frames, about the ring's own axis; a birth every frame.
  const Scene scene =
      ringOfPoints({"emitter.bursts=[]", "emitter.rate=24", "emitter.birth_points=1",
                    R"(emitter.rotation={"keys":[{"frame":1,"value":[0,0,0],"to_next":"linear"},
                                    {"frame":25,"value":[0,90,0]}]})"});
  const SceneFramePtr frame = simulate(scene, 25);
  const ParticleStore& particles = onlyGroup(frame);
  ASSERT_EQ(particles.size(), 24U);
  for (std::size_t i = 1; i < particles.size(); ++i)
    EXPECT_NEAR(std::abs(std::remainder(angleOf(particles.position(i)) - angleOf(particles.position(i - 1)),
                                        2 * kPi)),
                kPi / 2 / 24, 1e-5);
}

TEST(BirthPoints, AreTheSameInEveryRoundOfALoop) {
  const BirthPoints points(*ringOfPoints().findByName("emitter"));
  EXPECT_EQ(points.count(), 8U);
  for (std::uint64_t birth = 0; birth < 20; ++birth)
    EXPECT_EQ(points.pointOf(birth + 5 * kBirthsARound), birth % 8);
  EXPECT_EQ(BirthPoints().pointOf(17), 0U);
}

}  // namespace
}  // namespace comet
