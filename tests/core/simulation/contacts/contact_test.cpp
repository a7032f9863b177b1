// Piles of grains in whole scenes, against what is published and what everybody knows of them.
#include "support/scenes.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <gtest/gtest.h>
#include <numbers>

namespace comet {
namespace {

using test::onlyGroup;
using test::positionOf;
using test::simulate;
using test::velocityOf;
using test::with;
using test::withInfluence;

// So many grains of 0.1 that fall onto the ground.
Scene falling(int count) {
  Scene scene = with(test::oneBurst(count), {"emitter.shape=box", "emitter.speed=0", "emitter.size=0.1",
                                             "emitter.lifetime_mode=endless"});
  scene = withInfluence(scene, "gravity");
  scene = withInfluence(scene, "deflector",
                        {"deflector.shape=plane", "deflector.bounce=0", "deflector.friction=0.3"});
  return withInfluence(scene, "contact");
}

const ContactStats& statsOf(const SceneFramePtr& frame) { return frame->report->contacts.front(); }

double energyOf(const ParticleStore& grains) {
  double sum = 0;
  for (std::size_t i = 0; i < grains.size(); ++i)
    sum += 0.5 * std::pow(glm::length(velocityOf(grains, i)), 2);
  return sum / static_cast<double>(grains.size());
}

double highestOf(const ParticleStore& grains) {
  double highest = -1e9;
  for (std::size_t i = 0; i < grains.size(); ++i) highest = std::max(highest, positionOf(grains, i).y);
  return highest;
}

// The distance from the axis within which so many of a hundred lie.
double radiusOf(const ParticleStore& grains, double percent) {
  std::vector<double> radii;
  for (std::size_t i = 0; i < grains.size(); ++i)
    radii.push_back(std::hypot(positionOf(grains, i).x, positionOf(grains, i).z));
  std::sort(radii.begin(), radii.end());
  return radii[static_cast<std::size_t>(0.01 * percent * static_cast<double>(radii.size() - 1))];
}

// A heap comes to rest, stays, and its grains overlap by no more than 2 % of a radius.
TEST(Contact, AHeapComesToRestAndStays) {
  const Scene scene = with(
      falling(600), {"emitter.position=0,0.6,0", "emitter.extent=0.8,1.2,0.8", "contact.contact_steps=20"});
  SceneRun run(scene, test::roomyCache());
  EXPECT_EQ(statsOf(run.frame(1)).particles, 600U);
  EXPECT_GT(statsOf(run.frame(1)).deepest, 0.5) << "as they are born";
  const double height = highestOf(onlyGroup(run.frame(120)));
  for (const int frame : {120, 150, 180}) {
    const SceneFramePtr now = run.frame(frame);
    EXPECT_LT(energyOf(onlyGroup(now)), 2e-4) << frame;
    EXPECT_LT(statsOf(now).deepest, 0.02) << frame;
    EXPECT_NEAR(highestOf(onlyGroup(now)), height, 0.05) << frame;
  }
  EXPECT_EQ(statsOf(run.frame(180)).particles, 600U);
  EXPECT_GT(statsOf(run.frame(180)).pairs, 900U) << "each touches several";
  EXPECT_GT(height, 0.2) << "they lie on each other";
}

// Lube, Huppert, Sparks and Hallworth (2004): a column of grains that collapses spreads to 1 + 1.24 times its
// aspect ratio, times its first radius, below an aspect ratio of 1.7.
TEST(Contact, ACollapsingColumnSpreadsAsPublished) {
  constexpr double kRadius = 0.5, kGrain = 0.06, kFilled = 0.58;
  for (const double aspect : {0.8, 1.4}) {
    const double volume = std::numbers::pi * kRadius * kRadius * kRadius * aspect;
    const int count = static_cast<int>(kFilled * volume / (std::numbers::pi / 6 * std::pow(kGrain, 3)));
    Scene scene =
        with(falling(count), {"contact.static_friction=0.3", "emitter.size=0.06±0.01",
                              "emitter.extent=0.66," + std::to_string(3 * aspect * kRadius) + ",0.66",
                              "emitter.position=0," + std::to_string(1.6 * aspect * kRadius) + ",0"});
    scene = scene.withAdded(newItem(*catalog().find("deflector"), "tube"));
    scene =
        with(scene, {"tube.shape=cylinder", "tube.inside_out=true", "tube.radius=0.5", "tube.height=20",
                     "tube.position=0,9,0", "tube.friction=0", "tube.bounce=0", "tube.particle_radius=100",
                     "tube.acts=frame_range", "tube.acts_from=-1", "tube.acts_until=72"});
    const SceneFramePtr before = simulate(scene, 72), after = simulate(scene, 170);
    EXPECT_LT(energyOf(onlyGroup(before)), 5e-3) << "it stands";
    const double height = highestOf(onlyGroup(before)) + 0.5 * kGrain;
    EXPECT_NEAR(height / kRadius, aspect, 0.25 * aspect);
    const double spread = (radiusOf(onlyGroup(after), 99) + 0.5 * kGrain) / kRadius;
    EXPECT_NEAR(spread, 1 + 1.24 * height / kRadius, 0.2 * (1 + 1.24 * height / kRadius)) << aspect;
  }
}

TEST(Contact, HeapsAreSteeperWithFriction) {
  const auto heightWith = [](const std::string& friction) {
    const Scene scene =
        with(falling(0), {"emitter.rate=300", "emitter.shape=disc", "emitter.radius=0.1",
                          "emitter.position=0,0.8,0", "emitter.bursts=[]", "emitter.emits=frame_range",
                          "emitter.emits_until=72", "deflector.friction=" + friction,
                          "contact.friction=" + friction, "contact.static_friction=" + friction});
    const ParticleStore& grains = onlyGroup(simulate(scene, 140));
    double sum = 0;
    for (std::size_t i = 0; i < grains.size(); ++i) sum += positionOf(grains, i).y;
    return sum / static_cast<double>(grains.size());
  };
  const double smooth = heightWith("0.02"), usual = heightWith("0.3"), rough = heightWith("1");
  EXPECT_GT(usual, 1.2 * smooth);
  EXPECT_GT(rough, 1.1 * usual);
}

// Grains in a closed box that turns: none gets out, however they are pressed against its walls.
TEST(Contact, NothingIsPushedThroughAWallThatMoves) {
  Scene scene =
      with(falling(0), {R"(emitter.bursts=[{"frame":1,"count":1500}])", "emitter.extent=1.1,1.1,1.1"});
  scene = with(
      scene,
      {"deflector.shape=box", "deflector.inside_out=true", "deflector.size=1.3,1.3,1.3",
       R"(deflector.rotation={"keys":[{"frame":1,"value":[0,0,0],"to_next":"linear"},{"frame":49,"value":[0,0,180]}]})"});
  SceneRun run(scene, test::roomyCache());
  for (const int frame : {10, 30, 48}) {
    const ParticleStore& grains = onlyGroup(run.frame(frame));
    ASSERT_EQ(grains.size(), 1500U);
    const double angle = std::numbers::pi * (frame - 1) / 48;
    for (std::size_t i = 0; i < grains.size(); ++i) {
      const Vec3d at = positionOf(grains, i);
      const Vec3d own(at.x * std::cos(angle) + at.y * std::sin(angle),
                      at.y * std::cos(angle) - at.x * std::sin(angle), at.z);
      EXPECT_LT(std::max({std::abs(own.x), std::abs(own.y), std::abs(own.z)}), 0.6501) << frame;
    }
  }
}

TEST(Contact, ResponsesSayWhoPushesWhom) {
  // One grain rests on the ground where another falls.
  Scene scene = with(falling(1), {"emitter.shape=point", "emitter.position=0,0.01,0"});
  scene = scene.withAdded(newItem(*catalog().find("emitter"), "other"));
  scene =
      with(scene, {"other.shape=point", "other.position=0.01,1,0", "other.speed=0", "other.size=0.1",
                   "other.rate=0", R"(other.bursts=[{"frame":1,"count":1}])", "other.lifetime_mode=endless"});
  const auto apart = [](const Scene& of) {
    const SceneFramePtr frame = simulate(of, 40);
    return glm::length(positionOf(frame->particles->groups[0].particles, 0) -
                       positionOf(frame->particles->groups[1].particles, 0));
  };
  EXPECT_GT(apart(scene), 0.098);
  EXPECT_LT(apart(with(scene, {"contact.neighbours=own"})), 0.02) << "each meets its own only";
  const Scene without =
      scene.withResponse(scene.findByName("other")->id, scene.findByName("contact")->id, {});
  EXPECT_LT(apart(without), 0.02) << "a contact takes two";
  EXPECT_LT(
      apart(with(scene, {"contact.acts=frame_range", "contact.acts_from=100", "contact.acts_until=120"})),
      0.02);
  EXPECT_GT(apart(with(scene, {"contact.contact_radius=200"})), 0.196);
}

// Grains shot so fast that several are born in a frame: they push each other aside from their births on.
TEST(Contact, BirthsDuringAStepTakePartInIt) {
  const Scene scene = with(
      falling(0), {"emitter.rate=200", "emitter.bursts=[]", "emitter.shape=disc", "emitter.radius=0.02",
                   "emitter.speed=3", "emitter.cone=0", "gravity.strength=0", "deflector.position=0,-10,0"});
  const SceneFramePtr first = simulate(scene, 2);
  EXPECT_GT(radiusOf(onlyGroup(first), 100), 0.021);
  EXPECT_GT(statsOf(first).pairs, 3U);
  EXPECT_GT(radiusOf(onlyGroup(simulate(scene, 24)), 90), 0.05);
}

// Those that there were before it have to remember from then on how they roll.
TEST(Contact, BeginsWhileParticlesLive) {
  const Scene scene = with(falling(50), {"emitter.shape=point", "contact.acts=frame_range",
                                         "contact.acts_from=10", "contact.acts_until=100"});
  const SceneFramePtr before = simulate(scene, 9), after = simulate(scene, 30);
  EXPECT_TRUE(before->report->contacts.empty());
  EXPECT_EQ(radiusOf(onlyGroup(before), 100), 0);
  EXPECT_EQ(statsOf(after).particles, 50U);
  EXPECT_GT(radiusOf(onlyGroup(after), 50), 0.1);
}

TEST(Contact, IsTheSameHoweverRun) {
  Scene scene = with(falling(400), {"emitter.position=0,0.5,0", "emitter.extent=0.6,1,0.6",
                                    "emitter.rate=100", "emitter.mass=1±0.5"});
  test::expectTheSameHoweverRun(scene, 30);
}

}  // namespace
}  // namespace comet
