#include "simulation/probe.h"

#include "support/scenes.h"

#include <glm/geometric.hpp>

namespace comet {
namespace {

using test::oneBurst;
using test::with;
using test::withChild;
using test::withInfluence;

std::vector<SceneFramePtr> framesOf(const Scene& scene, int last) {
  SceneRun run(scene, std::make_shared<FrameCache>(1 << 26));
  std::vector<SceneFramePtr> frames;
  for (int frame = 1; frame <= last; ++frame) frames.push_back(run.frame(frame));
  return frames;
}

TEST(Probe, TellsWhatActs) {
  Scene scene = withInfluence(oneBurst(1), "gravity", {"gravity.strength=10"});
  scene = withInfluence(scene, "wind", {"wind.speed=4", "wind.air_drag=3"});
  const ItemId emitter = scene.findByName("emitter")->id;
  scene = with(scene.withResponse(emitter, scene.findByName("gravity")->id, {50}), {"emitter.mass=2"});
  const auto frames = framesOf(scene, 1);
  const auto probed = probeParticle(scene, *frames[0], frames[0]->particles->groups[0].particles.ids()[0]);
  ASSERT_TRUE(probed);
  EXPECT_EQ(probed->emitter, emitter);
  EXPECT_EQ(probed->age, 0);
  EXPECT_EQ(probed->mass, 2);
  ASSERT_EQ(probed->influences.size(), 2U);
  // Half of the gravity, whatever the mass.
  EXPECT_LT(glm::length(probed->influences[0].acceleration - Vec3d(0, -5, 0)), 1e-6);
  // airDrag (air - velocity) / mass, at a velocity of 3 upwards.
  EXPECT_LT(glm::length(probed->influences[1].acceleration - Vec3d(6, -4.5, 0)), 1e-6);
}

// What the air does to a card depends on its faces: it is not told as a push on its middle.
TEST(Probe, TellsOfACardWhatPushesItsPointsAlike) {
  Scene scene = withInfluence(with(oneBurst(1), {"emitter.sprite=card"}), "gravity");
  scene = withInfluence(scene, "wind");
  const SceneFramePtr frame = test::simulate(scene, 4);
  const auto probed = probeParticle(scene, *frame, frame->particles->groups[0].particles.ids()[0]);
  ASSERT_TRUE(probed);
  ASSERT_EQ(probed->influences.size(), 1U);
  EXPECT_NEAR(probed->influences[0].acceleration.y, -test::kGravity, 1e-6);
  ASSERT_TRUE(probed->stretch);
  EXPECT_LT(*probed->stretch, 0.02);
}

// Two balls of radius 0.5 and one of 0.25 in a row, and one that is out of reach.
TEST(Probe, FindsWhatTouches) {
  const auto ball = [](const Scene& scene, const char* name, double x, double size) {
    const Scene more = withChild(scene, "own", {}, name);
    const std::string item = name;
    return with(more, {item + ".rate=0", item + R"(.bursts=[{"frame":1,"count":1}])", item + ".speed=0",
                       item + ".shape=point", item + ".position=" + std::to_string(x) + ",0,0",
                       item + ".size=" + std::to_string(size)});
  };
  Scene scene = with(oneBurst(1), {"emitter.size=1", "emitter.speed=0"});
  scene = ball(ball(ball(scene, "near", 0.9, 1), "small", -0.75, 0.5), "far", 3, 1);
  scene = withInfluence(scene, "contact");
  const auto probed = [](const Scene& shown) {
    const SceneFramePtr frame = test::simulate(shown, 1);
    const ItemId emitter = shown.findByName("emitter")->id;
    return *probeParticle(shown, *frame, frame->particles->find(emitter)->particles.ids()[0]);
  };
  const ProbedParticle particle = probed(scene);
  ASSERT_EQ(particle.touches.size(), 2U);
  EXPECT_EQ(emitterOfId(particle.touches[0].other), scene.findByName("near")->id);
  EXPECT_NEAR(particle.touches[0].depth, 0.2, 1e-6) << "a tenth of a unit";
  EXPECT_LT(glm::length(particle.touches[0].at - Vec3d(0.45, 0, 0)), 1e-6);
  EXPECT_EQ(emitterOfId(particle.touches[1].other), scene.findByName("small")->id);
  EXPECT_NEAR(particle.touches[1].depth, 0, 1e-6);
  EXPECT_LT(glm::length(particle.touches[1].at - Vec3d(-0.5, 0, 0)), 1e-6);
  EXPECT_TRUE(probed(with(scene, {"contact.neighbours=own"})).touches.empty());
  EXPECT_EQ(probed(with(scene, {"contact.contact_radius=92"})).touches.size(), 1U);
}

TEST(Probe, FindsTheHighestPointOfAThrow) {
  const Scene scene =
      withInfluence(with(oneBurst(1), {"emitter.speed=10"}), "gravity", {"gravity.strength=10"});
  const auto frames = framesOf(scene, 60);
  const auto path = pathOf(frames[0]->particles->groups[0].particles.ids()[0], frames);
  ASSERT_EQ(path.size(), 60U);
  // v² / 2g, reached after v / g: 24 frames after the first.
  EXPECT_NEAR(highestPoint(path).position.y, 5, 1e-3);
  EXPECT_EQ(highestPoint(path).frame, 25);
}

TEST(Probe, SpreadsCountEveryParticleOnce) {
  const Scene scene =
      withInfluence(with(oneBurst(1000), {"emitter.speed=10±5"}), "gravity", {"gravity.strength=10"});
  const auto frames = framesOf(scene, 80);
  const EmitterSpreads spreads = spreadsOf(scene.findByName("emitter")->id, *frames[40], frames);
  for (const Spread* spread : {&spreads.age, &spreads.speed, &spreads.highest, &spreads.highestAge}) {
    int sum = 0;
    for (const int count : spread->counts) sum += count;
    EXPECT_EQ(sum, 1000);
  }
  EXPECT_NEAR(spreads.highest.min, 25.0 / 20, 0.05);
  EXPECT_NEAR(spreads.highest.max, 225.0 / 20, 0.1);
  // Speeds are even from 5 to 15, and so are the times to the top.
  EXPECT_NEAR(spreads.highestAge.mean, 1, 0.05);
}

TEST(Probe, WhatIsNotThereIsNotFound) {
  const auto frames = framesOf(oneBurst(1), 1);
  EXPECT_FALSE(probeParticle(oneBurst(1), *frames[0], 12345));
  EXPECT_TRUE(pathOf(12345, frames).empty());
  EXPECT_TRUE(spreadOf({}).counts.empty());
}

}  // namespace
}  // namespace comet
