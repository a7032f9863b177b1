// The motion of particles against closed forms.
#include "support/scenes.h"

#include <glm/geometric.hpp>

namespace comet {
namespace {

using test::oneBurst;
using test::onlyGroup;
using test::positionOf;
using test::secondsAt;
using test::simulate;
using test::velocityOf;
using test::with;
using test::withInfluence;

TEST(Motion, ThrownParticleFollowsItsParabola) {
  for (const char* substeps : {"1", "2", "7"}) {
    Scene scene = withInfluence(oneBurst(), "gravity", {"gravity.strength=9.81"});
    scene = with(scene,
                 {"emitter.direction=1,2,-1", "emitter.speed=6", std::string("scene.substeps=") + substeps});
    const Vec3d launch = 6.0 * glm::normalize(Vec3d(1, 2, -1));
    SceneRun run(scene, std::make_shared<FrameCache>(memoryBudget(scene)));
    for (int frame = 1; frame <= 240; ++frame) {
      const double t = secondsAt(frame);
      const Vec3d expected = launch * t + 0.5 * Vec3d(0, -9.81, 0) * t * t;
      const SceneFramePtr simulated = run.frame(frame);
      ASSERT_EQ(onlyGroup(simulated).size(), 1U);
      EXPECT_LE(glm::length(positionOf(onlyGroup(simulated), 0) - expected),
                1e-5 * std::max(1.0, glm::length(expected)))
          << "frame " << frame << ", " << substeps << " substeps";
    }
  }
}

TEST(Motion, LinearDragDecaysAsItsClosedForm) {
  const double k = 1.7;
  for (const char* substeps : {"1", "4"}) {
    const Scene scene = with(withInfluence(oneBurst(), "drag", {"drag.rate=1.7"}),
                             {std::string("scene.substeps=") + substeps});
    for (const int frame : {2, 13, 49}) {
      const double t = secondsAt(frame);
      const SceneFramePtr simulated = simulate(scene, frame);
      EXPECT_NEAR(velocityOf(onlyGroup(simulated), 0).y, 3 * std::exp(-k * t), 1e-5);
      EXPECT_NEAR(positionOf(onlyGroup(simulated), 0).y, 3 / k * (1 - std::exp(-k * t)), 1e-5);
    }
  }
}

TEST(Motion, FallingWithDragReachesTerminalVelocity) {
  const Scene scene =
      withInfluence(withInfluence(oneBurst(), "gravity", {"gravity.strength=10"}), "drag", {"drag.rate=2"});
  EXPECT_NEAR(velocityOf(onlyGroup(simulate(scene, 24 * 15)), 0).y, -5, 1e-4);
}

TEST(Motion, WindIsTakenOnAtItsGrip) {
  const Scene scene =
      with(withInfluence(oneBurst(), "wind", {"wind.speed=4", "wind.air_drag=1", "wind.direction=0,0,2"}),
           {"emitter.speed=0"});
  const SceneFramePtr afterOneSecond = simulate(scene, 25);
  EXPECT_NEAR(velocityOf(onlyGroup(afterOneSecond), 0).z, 4 * (1 - std::exp(-1.0)), 1e-5);
  EXPECT_NEAR(velocityOf(onlyGroup(simulate(scene, 24 * 20)), 0).z, 4, 1e-4);
}

TEST(Motion, ForcesAddUpInAnyOrder) {
  const Scene scene = test::busyScene();
  const auto influences = scene.itemsOf(ItemFamily::Influence);
  const Scene reordered = scene.withMoved(influences.front()->id, influences.back()->id);
  const SceneFramePtr one = simulate(scene, 20), other = simulate(reordered, 20);
  const ItemId emitter = scene.findByName("emitter")->id;
  const ParticleStore &a = one->particles->find(emitter)->particles,
                      &b = other->particles->find(emitter)->particles;
  ASSERT_EQ(a.size(), b.size());
  ASSERT_GT(a.size(), 500U);
  for (std::size_t i = 0; i < a.size(); ++i)
    EXPECT_LT(glm::length(positionOf(a, i) - positionOf(b, i)), 1e-4);
}

TEST(Motion, ResponseScalesAnInfluence) {
  Scene scene = with(withInfluence(oneBurst(), "gravity", {"gravity.strength=10"}), {"emitter.speed=0"});
  const ItemId emitter = scene.findByName("emitter")->id, gravity = scene.findByName("gravity")->id;
  const auto fall = [&](std::optional<double> percent) {
    return velocityOf(onlyGroup(simulate(scene.withResponse(emitter, gravity, {percent}), 25)), 0).y;
  };
  EXPECT_NEAR(fall(100), -10, 1e-4);
  EXPECT_NEAR(fall(35), -3.5, 1e-4);
  EXPECT_NEAR(fall(-50), 5, 1e-4);
  EXPECT_EQ(fall(std::nullopt), 0);
}

TEST(Motion, InfluenceThatIsOffDoesNothing) {
  Scene scene = withInfluence(oneBurst(), "gravity");
  scene = scene.withEnabled(scene.findByName("gravity")->id, false);
  EXPECT_NEAR(positionOf(onlyGroup(simulate(scene, 25)), 0).y, 3, 1e-5);
}

// Halving the step must quarter the error: the method is of second order in what varies with position.
TEST(Motion, TurbulenceConvergesAtSecondOrder) {
  Scene scene = withInfluence(
      oneBurst(), "turbulence",
      {"turbulence.strength=4", "turbulence.scale=4", "turbulence.octaves=1", "turbulence.change_rate=0"});
  scene = with(scene, {"scene.frame_rate=3"});
  const auto endWith = [&](int substeps) {
    return positionOf(onlyGroup(simulate(with(scene, {"scene.substeps=" + std::to_string(substeps)}), 7)), 0);
  };
  const Vec3d reference = endWith(32);
  const double coarse = glm::length(endWith(2) - reference), fine = glm::length(endWith(4) - reference);
  ASSERT_GT(coarse, 1e-4) << "the flow is too straight to tell";
  EXPECT_GT(coarse / fine, 3.0);
}

TEST(Motion, WhatBecomesEndlessIsDroppedAndCountedAndTheRestGoesOn) {
  // Drag the wrong way round drives particles on the faster the faster they are; one at rest stays.
  Scene scene = withInfluence(oneBurst(5), "drag", {"drag.rate=1000"});
  scene = scene.withResponse(scene.findByName("emitter")->id, scene.findByName("drag")->id, {-100});
  Item still = *scene.findByName("emitter");
  scene = with(scene.withDuplicate(still.id, still), {"emitter 2.speed=0"});
  const SceneFramePtr late = simulate(scene, 12);
  EXPECT_EQ(late->report->stats.losses.lost, 5U);
  ASSERT_EQ(late->report->stats.living, 5U);
  EXPECT_TRUE(late->particles->groups[0].particles.size() == 0);
  EXPECT_EQ(simulate(scene, 1)->report->stats.losses.lost, 0U);
}

TEST(Motion, NewbornsHaveMovedFromTheirOwnMomentOn) {
  // Born evenly in time and thrown alike, particles lie evenly on the parabola of their age.
  Scene scene = with(test::starting(), {"emitter.rate=240", "emitter.cone=0", "emitter.speed=5",
                                        "emitter.lifetime=10", "scene.substeps=3"});
  scene = withInfluence(scene, "gravity", {"gravity.strength=4"});
  const SceneFramePtr frame = simulate(scene, 12);
  const ParticleStore& particles = onlyGroup(frame);
  ASSERT_NEAR(static_cast<double>(particles.size()), 110, 1);
  for (std::size_t i = 0; i < particles.size(); ++i) {
    const double age = particles.field(ParticleStore::Age)[i];
    EXPECT_NEAR(positionOf(particles, i).y, 5 * age - 2 * age * age, 1e-5);
    EXPECT_NEAR(velocityOf(particles, i).y, 5 - 4 * age, 1e-5);
  }
}

}  // namespace
}  // namespace comet
