// Deflectors against the laws of the motion, and that nothing gets through.
#include "simulation/deflectors/deflect.h"

#include "base/parallel.h"
#include "catalog.h"
#include "io/picture_content.h"
#include "simulation/plan.h"
#include "support/meshes.h"
#include "support/scenes.h"

#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <glm/matrix.hpp>
#include <map>

namespace comet {
namespace {

using test::kGravity;
using test::oneBurst;
using test::onlyGroup;
using test::positionOf;
using test::simulate;
using test::velocityOf;
using test::with;
using test::withInfluence;

Scene underGravity(const Scene& scene) { return withInfluence(scene, "gravity", {"gravity.strength=9.81"}); }

// Frames one after the other.
class Frames {
 public:
  explicit Frames(const Scene& scene) : run_(scene, std::make_shared<FrameCache>(memoryBudget(scene))) {}
  SceneFramePtr frame(int frame) { return run_.frame(frame); }

 private:
  SceneRun run_;
};

std::uint64_t hitsOf(const SceneFrame& frame) {
  std::uint64_t hits = 0;
  for (const DeflectionStats& stats : frame.report->deflections) hits += stats.hits;
  return hits;
}

class BouncingBall : public ::testing::TestWithParam<std::pair<int, int>> {};

TEST_P(BouncingBall, KeepsItsShareOfTheHeightAtEachBounce) {
  const auto [rate, substeps] = GetParam();
  constexpr double kHeight = 3, kBounce = 0.8;
  Scene scene = withInfluence(underGravity(oneBurst()), "deflector", {"deflector.bounce=80"});
  scene =
      with(scene, {"emitter.speed=0", "emitter.position=0,3,0", "scene.frame_rate=" + std::to_string(rate),
                   "scene.substeps=" + std::to_string(substeps)});
  Frames run(scene);
  std::uint64_t hits = 0;
  for (int frame = 1; hits < 10; ++frame) {
    const SceneFramePtr now = run.frame(frame);
    hits += hitsOf(*now);
    ASSERT_LT(frame, 20 * rate) << "it bounces less than ten times";
    if (hits > 10) break;
    const Vec3d v = velocityOf(onlyGroup(now), 0), p = positionOf(onlyGroup(now), 0);
    // To which height its energy would bring it.
    const double reaches = p.y + 0.5 * v.y * v.y / kGravity;
    const double law = kHeight * std::pow(kBounce, 2.0 * static_cast<double>(hits));
    ASSERT_NEAR(reaches / law, 1, 0.01) << "after " << hits << " bounces, frame " << frame;
  }
}

INSTANTIATE_TEST_SUITE_P(Rates, BouncingBall,
                         ::testing::Values(std::pair{24, 1}, std::pair{24, 4}, std::pair{30, 1},
                                           std::pair{30, 4}, std::pair{60, 1}, std::pair{60, 4}));

TEST(Hits, DoNotCountWhatLiesOnTheGround) {
  Scene scene = withInfluence(underGravity(oneBurst(200)), "deflector",
                              {"deflector.bounce=30", "deflector.friction=40"});
  scene = with(scene, {"emitter.speed=2", "emitter.cone=90", "emitter.position=0,1,0", "emitter.size=0.1"});
  Frames run(scene);
  std::uint64_t early = 0, late = 0;
  for (int frame = 1; frame <= 40; ++frame) early += hitsOf(*run.frame(frame));
  for (int frame = 150; frame <= 200; ++frame) late += hitsOf(*run.frame(frame));
  EXPECT_GE(early, 200U) << "each of them has landed";
  EXPECT_EQ(late, 0U);
}

TEST(Hits, AreEventsThatTellWhereWhenAndHowFast) {
  // Falls from 2 under no gravity at 3 units a second onto a plane that leans by 30°.
  Scene scene = withInfluence(oneBurst(), "deflector", {"deflector.rotation=0,0,30", "deflector.friction=0"});
  scene = with(scene, {"emitter.position=1,2,0", "emitter.direction=0,-1,0"});
  Frames run(scene);
  std::vector<SurfaceHit> hits;
  for (int frame = 1; frame <= 30; ++frame)
    hits.insert(hits.end(), run.frame(frame)->report->hits.begin(), run.frame(frame)->report->hits.end());
  ASSERT_EQ(hits.size(), 1U);
  const SurfaceHit& hit = hits.front();
  const double height = std::tan(kPi / 6);
  EXPECT_NEAR(hit.time, (2 - height) / 3, 1e-3);
  EXPECT_NEAR(hit.position.x, 1, 1e-5);
  EXPECT_NEAR(hit.position.y, height, 1e-3);
  EXPECT_NEAR(hit.normal.x, -0.5, 1e-6);
  EXPECT_NEAR(hit.normal.y, std::cos(kPi / 6), 1e-6);
  EXPECT_NEAR(hit.speed, 3 * std::cos(kPi / 6), 1e-5);
  EXPECT_EQ(hit.deflector, scene.findByName("deflector")->id);
  EXPECT_EQ(hit.particle, onlyGroup(run.frame(20)).ids()[0]);
}

TEST(Hits, AreTheSameOverThreadsAndComeByTheirTimes) {
  Scene scene = withInfluence(underGravity(oneBurst(9000)), "deflector", {"deflector.bounce=60"});
  scene = with(scene, {"emitter.shape=box", "emitter.extent=4,2,4", "emitter.position=0,2,0"});
  const SceneFramePtr many = simulate(scene, 24);
  SceneFramePtr one;
  {
    const ThreadLimit limit(1);
    one = simulate(scene, 24);
  }
  ASSERT_GT(many->report->hits.size(), 100U);
  ASSERT_EQ(many->report->hits.size(), one->report->hits.size());
  EXPECT_EQ(many->report->hits.size(), hitsOf(*many));
  for (std::size_t i = 0; i < one->report->hits.size(); ++i) {
    EXPECT_EQ(many->report->hits[i].particle, one->report->hits[i].particle);
    EXPECT_EQ(many->report->hits[i].time, one->report->hits[i].time);
    EXPECT_LE(one->report->hits[i == 0 ? 0 : i - 1].time, one->report->hits[i].time);
  }
}

TEST(Stick, LetsGoAfterItsTimeAtItsSpeed) {
  // Reaches the ceiling, 3 units up at 3 units a second, after a second; sticks for half of one.
  for (const char* substeps : {"1", "4"}) {
    Scene scene =
        withInfluence(oneBurst(), "deflector",
                      {"deflector.shape=rectangle", "deflector.position=0,3,0", "deflector.on_hit=stick",
                       "deflector.stick_time=0.51", "deflector.release_speed=2"});
    scene = with(scene, {std::string("scene.substeps=") + substeps});
    Frames run(scene);
    const auto heightAt = [&](int frame) { return positionOf(onlyGroup(run.frame(frame)), 0).y; };
    EXPECT_NEAR(heightAt(25), 3, 1e-3);
    EXPECT_NEAR(heightAt(37), 3, 1e-3);
    EXPECT_NEAR(velocityOf(onlyGroup(run.frame(38)), 0).y, -2, 1e-5);
    // Let go after 1.51 s; a second and a half later it is 3 units lower.
    EXPECT_NEAR(heightAt(1 + 72), 3 - 2 * (3 - 1.51), 2e-3);
  }
}

TEST(Stick, WhatIsLetGoLiesFreeAndSticksAgainWhenItHitsAgain) {
  Scene scene =
      withInfluence(underGravity(oneBurst()), "deflector",
                    {"deflector.on_hit=stick", "deflector.stick_time=0.5", "deflector.release_speed=4"});
  scene = with(scene, {"emitter.speed=0", "emitter.position=0,0.5,0"});
  Frames run(scene);
  int hits = 0;
  double highest = 0;
  for (int frame = 2; frame <= 120; ++frame) {
    const SceneFramePtr now = run.frame(frame);
    hits += static_cast<int>(hitsOf(*now));
    if (hits > 0) highest = std::max(highest, positionOf(onlyGroup(now), 0).y);
  }
  // Falls for 0.32 s; then sticks for half a second and flies for 2 · 4 / g = 0.815 s, again and again.
  const double fall = std::sqrt(2 * 0.5 / kGravity), round = 0.5 + 8 / kGravity;
  EXPECT_EQ(hits, 1 + static_cast<int>((119 / 24.0 - fall) / round));
  EXPECT_NEAR(highest, 16 / (2 * kGravity), 0.02);
}

TEST(Stick, HoldsAgainstWhatLeadsAwayAlongTheGround) {
  // Slides over the ground to a wall that holds it, though wind blows it back.
  Scene scene = underGravity(oneBurst());
  for (const auto& [name, settings] :
       {std::pair<std::string, std::vector<std::string>>{"ground", {"friction=0", "bounce=0"}},
        {"wall", {"shape=rectangle", "rotation=0,0,90", "position=1,0,0", "on_hit=stick"}}}) {
    scene = scene.withAdded(newItem(*catalog().find("deflector"), name));
    for (const std::string& setting : settings) scene = with(scene, {name + "." + setting});
  }
  scene = with(scene, {"emitter.speed=4", "emitter.direction=1,0,0", "emitter.position=0,0.0002,0"});
  scene = withInfluence(scene, "wind", {"wind.direction=-1,0,0", "wind.speed=10", "wind.air_drag=0.3"});
  EXPECT_NEAR(positionOf(onlyGroup(simulate(scene, 60)), 0).x, 1, 1e-3);
}

class Slope : public ::testing::TestWithParam<double> {};

TEST_P(Slope, ABlockStaysOrSlidesAsCoulombSays) {
  const double degrees = GetParam(), angle = degrees * kPi / 180, friction = 0.5;
  Scene scene = withInfluence(
      underGravity(oneBurst()), "deflector",
      {"deflector.rotation=0,0," + std::to_string(degrees), "deflector.friction=0.5", "deflector.bounce=0"});
  scene = with(scene, {"emitter.speed=0", "emitter.position=0,0.0002,0"});
  const Vec3d from = positionOf(onlyGroup(simulate(scene, 3)), 0);
  const Vec3d speed = velocityOf(onlyGroup(simulate(scene, 3)), 0);
  const Vec3d to = positionOf(onlyGroup(simulate(scene, 3 + 48)), 0);
  const double acceleration = kGravity * (std::sin(angle) - friction * std::cos(angle));
  const double path = glm::length(to - from);
  if (acceleration <= 0) {
    EXPECT_LT(path, 1e-3) << "it stays";
    return;
  }
  EXPECT_NEAR(path, glm::length(speed) * 2 + 0.5 * acceleration * 4, 0.01 * path);
  const Vec3d down(-std::cos(angle), -std::sin(angle), 0);
  EXPECT_GT(glm::dot(glm::normalize(to - from), down), 0.9999);
}

// On either side of the limit, atan 0.5 = 26.565°.
INSTANTIATE_TEST_SUITE_P(Angles, Slope, ::testing::Values(10.0, 26.0, 27.2, 40.0));

TEST(Deflect, NothingEscapesFromABoxThatTurnsOnTwoAxes) {
  Scene scene = withInfluence(
      underGravity(oneBurst(3000)), "deflector",
      {"deflector.shape=box", "deflector.inside_out=true", "deflector.size=4,4,4", "deflector.bounce=30",
       "deflector.friction=0.3",
       R"(deflector.rotation={"keys":[{"frame":1,"value":[0,0,0],"to_next":"linear"},{"frame":121,"value":[500,0,900]}]})"});
  scene = with(scene, {"emitter.shape=box", "emitter.extent=3.8,3.8,3.8", "emitter.launch=random",
                       "emitter.speed=8±8"});
  Frames run(scene);
  double worst = 0;
  for (int frame = 1; frame <= 121; frame += 4) {
    const SceneFramePtr now = run.frame(frame);
    const Item& box = *scene.findByName("deflector");
    const Mat3d turn = rotationFromDegrees(box.vector("rotation", frame));
    ASSERT_EQ(onlyGroup(now).size(), 3000U);
    for (std::size_t i = 0; i < 3000; ++i) {
      const Vec3d own = glm::abs(glm::transpose(turn) * positionOf(onlyGroup(now), i));
      worst = std::max({worst, own.x - 2, own.y - 2, own.z - 2});
    }
  }
  EXPECT_LT(worst, 1e-4);
}

TEST(Deflect, FastParticlesDoNotCrossWhatHasNoThickness) {
  Scene scene = withInfluence(oneBurst(2000), "deflector",
                              {"deflector.shape=rectangle", "deflector.size=400,1,400",
                               "deflector.rotation=0,0,0", "deflector.bounce=100", "deflector.friction=0"});
  scene = with(scene, {"emitter.shape=box", "emitter.extent=4,4,4", "emitter.position=0,6,0",
                       "emitter.speed=500", "emitter.direction=0,-1,0", "emitter.cone=60"});
  for (const int frame : {2, 3, 6}) {
    const SceneFramePtr now = simulate(scene, frame);
    for (std::size_t i = 0; i < onlyGroup(now).size(); ++i) {
      ASSERT_GT(positionOf(onlyGroup(now), i).y, 0);
      ASSERT_NEAR(glm::length(velocityOf(onlyGroup(now), i)), 500, 0.1) << "and all of their speed is kept";
    }
  }
}

TEST(Deflect, WhatIsThrownBackMeetsWhatIsBehindIt) {
  // Between two sheets that are an eighth as far apart as it goes in a frame.
  Scene scene = oneBurst(1000);
  for (const auto& [side, place] : {std::pair{"left", "-0.1,0,0"}, {"right", "0.1,0,0"}}) {
    scene = scene.withAdded(newItem(*catalog().find("deflector"), side));
    const std::string name = std::string(side) + ".";
    scene = with(scene, {name + "shape=rectangle", name + "rotation=0,0,90", name + "size=100,1,100",
                         name + "position=" + place, name + "bounce=100", name + "friction=0"});
  }
  scene = with(scene, {"emitter.shape=box", "emitter.extent=0.18,1,1", "emitter.speed=40",
                       "emitter.direction=1,0,0", "emitter.cone=20"});
  const SceneFramePtr now = simulate(scene, 5);
  for (std::size_t i = 0; i < onlyGroup(now).size(); ++i) {
    ASSERT_LT(std::abs(positionOf(onlyGroup(now), i).x), 0.1);
    ASSERT_NEAR(glm::length(velocityOf(onlyGroup(now), i)), 40, 1e-2);
  }
}

TEST(Deflect, AFastPlaneTakesAlongWhatItSweepsOver) {
  Scene scene = withInfluence(
      oneBurst(2000), "deflector",
      {"deflector.shape=rectangle", "deflector.size=100,1,100", "deflector.bounce=0",
       R"(deflector.position={"keys":[{"frame":1,"value":[0,-10,0],"to_next":"linear"},{"frame":25,"value":[0,190,0]}]})"});
  scene = with(scene, {"emitter.shape=box", "emitter.extent=8,8,8", "emitter.speed=0"});
  const SceneFramePtr after = simulate(scene, 13);
  for (std::size_t i = 0; i < onlyGroup(after).size(); ++i) {
    ASSERT_GE(positionOf(onlyGroup(after), i).y, 90 - 1e-3);
    ASSERT_NEAR(velocityOf(onlyGroup(after), i).y, 200, 0.1);
  }
}

TEST(Deflect, WhatRestsStaysAtRestAndDoesNotSink) {
  Scene scene = withInfluence(underGravity(oneBurst(500)), "deflector",
                              {"deflector.bounce=30", "deflector.friction=0.4"});
  scene = with(scene, {"emitter.shape=box", "emitter.extent=6,1,6", "emitter.position=0,2,0",
                       "emitter.launch=random", "emitter.speed=2"});
  Frames run(scene);
  const SceneFramePtr then = run.frame(1 + 24 * 5), later = run.frame(1 + 24 * 8);
  for (std::size_t i = 0; i < 500; ++i) {
    const Vec3d v = velocityOf(onlyGroup(then), i);
    ASSERT_LT(0.5 * glm::dot(v, v), 1e-8) << "kinetic energy after five seconds";
    const Vec3d moved = positionOf(onlyGroup(later), i) - positionOf(onlyGroup(then), i);
    ASSERT_LT(glm::length(moved), 1e-5);
    ASSERT_NEAR(positionOf(onlyGroup(then), i).y, 0, 2e-4);
  }
}

TEST(Deflect, WhatLiesInACornerIsNotThrownToAndFro) {
  // Of a hollow box that leans, all comes to lie in its lowest corner; between two planes, in the groove.
  Scene box = withInfluence(underGravity(oneBurst(300)), "deflector",
                            {"deflector.shape=box", "deflector.inside_out=true", "deflector.size=2,2,2",
                             "deflector.rotation=35,0,45", "deflector.bounce=30", "deflector.friction=0.1"});
  box = with(box, {"emitter.shape=sphere", "emitter.radius=0.8", "emitter.launch=random", "emitter.speed=2"});
  Scene groove = underGravity(oneBurst(300));
  for (const auto& [side, turn] : {std::pair{"left", "0,0,40"}, {"right", "0,0,-50"}}) {
    groove = groove.withAdded(newItem(*catalog().find("deflector"), side));
    const std::string name = std::string(side) + ".";
    groove = with(groove, {name + "rotation=" + turn, name + "bounce=30", name + "friction=0.4"});
  }
  groove = with(groove, {"emitter.position=0,2,0", "emitter.launch=random", "emitter.speed=2"});
  for (const Scene& scene : {box, groove}) {
    const SceneFramePtr now = simulate(scene, 1 + 24 * 8);
    EXPECT_EQ(hitsOf(*now), 0U);
    const Vec3d first = positionOf(onlyGroup(now), 0);
    for (std::size_t i = 0; i < 300; ++i) {
      ASSERT_LT(glm::length(velocityOf(onlyGroup(now), i)), 1e-4);
      // The corner is one place, the groove a line along z.
      const Vec3d apart = positionOf(onlyGroup(now), i) - first;
      ASSERT_LT(std::hypot(apart.x, apart.y), 2e-3);
    }
  }
}

TEST(Deflect, OnATurningPlatformFrictionHoldsUpToItsLimit) {
  // What sticks at first turns with the platform; once let go it needs ω² r < μ g to stay, and ω is 94.5° a
  // second there.
  const auto radiusAfter = [](int degreesPerSecond, int frame) {
    Scene scene = withInfluence(
        underGravity(oneBurst()), "deflector",
        {"deflector.shape=box", "deflector.size=20,1,20", "deflector.position=0,-0.5,0",
         "deflector.on_hit=stick", "deflector.stick_time=0.2", "deflector.release_speed=0",
         "deflector.friction=0.5",
         R"(deflector.rotation={"keys":[{"frame":1,"value":[0,0,0],"to_next":"linear"},{"frame":241,"value":[0,)" +
             std::to_string(10 * degreesPerSecond) + ",0]}]}"});
    scene = with(scene, {"emitter.speed=0", "emitter.position=1.8,0.0002,0"});
    const SceneFramePtr now = simulate(scene, frame);
    EXPECT_LE(hitsOf(*now), 1U);
    const Vec3d position = positionOf(onlyGroup(now), 0);
    EXPECT_NEAR(position.y, 0, 1e-3);
    return std::hypot(position.x, position.z);
  };
  EXPECT_NEAR(radiusAfter(91, 97), 1.8, 2e-3);
  EXPECT_GT(radiusAfter(98, 97), 2);
}

TEST(Deflect, ASlidingParticleKeepsToACurvedSurface) {
  Scene scene = withInfluence(
      underGravity(oneBurst(300)), "deflector",
      {"deflector.shape=sphere", "deflector.radius=2", "deflector.on_hit=slide", "deflector.friction=0"});
  scene =
      with(scene, {"emitter.shape=disc", "emitter.radius=1", "emitter.position=0,3,0", "emitter.speed=0"});
  Frames run(scene);
  int touching = 0;
  for (int frame = 20; frame < 60; frame += 5) {
    const SceneFramePtr now = run.frame(frame);
    for (std::size_t i = 0; i < 300; ++i) {
      const double gap = glm::length(positionOf(onlyGroup(now), i)) - 2;
      ASSERT_GT(gap, -1e-4);
      touching += gap < 1e-3 ? 1 : 0;
    }
  }
  EXPECT_EQ(touching, 300 * 8) << "all of them cling, also over the bulge";
}

TEST(Deflect, WhatSticksRidesAlongUntilItIsPulledOff) {
  const auto sceneWith = [](const char* hold) {
    Scene scene = withInfluence(
        oneBurst(100), "deflector",
        {"deflector.on_hit=stick", std::string("deflector.stick_strength=") + hold,
         R"(deflector.rotation={"keys":[{"frame":1,"value":[0,0,0],"to_next":"linear"},{"frame":49,"value":[0,360,0]}]})"});
    scene = with(scene, {"emitter.shape=rectangle", "emitter.extent=4,1,4", "emitter.position=0,1,0",
                         "emitter.direction=0,-1,0", "emitter.speed=30"});
    return withInfluence(scene, "wind",
                         {"wind.acts=frame_range", "wind.acts_from=30", "wind.direction=0,1,0",
                          "wind.speed=10", "wind.air_drag=2"});
  };
  const Scene held = sceneWith("1000"), loose = sceneWith("5");
  const SceneFramePtr early = simulate(held, 5), late = simulate(held, 17), after = simulate(held, 40);
  for (std::size_t i = 0; i < 100; ++i) {
    // A quarter of a turn about y in twelve frames.
    const Vec3d from = positionOf(onlyGroup(early), i), to = positionOf(onlyGroup(late), i);
    ASSERT_NEAR(glm::length(to - Vec3d(from.z, from.y, -from.x)), 0, 1e-3);
    ASSERT_NEAR(positionOf(onlyGroup(after), i).y, 0, 1e-3);
  }
  EXPECT_GT(positionOf(onlyGroup(simulate(loose, 40)), 0).y, 1);
}

TEST(Deflect, EndsPassesAndIgnoresAsTold) {
  const Scene base = with(withInfluence(oneBurst(1000), "deflector", {}),
                          {"emitter.shape=rectangle", "emitter.extent=4,1,4", "emitter.position=0,1,0",
                           "emitter.direction=0,-1,0", "emitter.speed=30"});
  const auto living = [](const Scene& scene) { return onlyGroup(simulate(scene, 5)).size(); };
  EXPECT_EQ(living(base), 1000U);
  EXPECT_EQ(living(with(base, {"deflector.on_hit=die"})), 0U);
  EXPECT_NEAR(static_cast<double>(living(with(base, {"deflector.on_hit=die", "deflector.pass_through=30"}))),
              300, 45);
  const ItemId emitter = base.findByName("emitter")->id, deflector = base.findByName("deflector")->id;
  EXPECT_EQ(living(with(base, {"deflector.on_hit=die"}).withResponse(emitter, deflector, {})), 1000U);
  EXPECT_EQ(living(with(base, {"deflector.on_hit=die"}).withResponse(emitter, deflector, {0})), 1000U);
}

TEST(Deflect, StopsParticlesByTheirRimIfWanted) {
  Scene scene = withInfluence(underGravity(oneBurst(200)), "deflector",
                              {"deflector.particle_radius=100", "deflector.bounce=0"});
  scene = with(scene, {"emitter.shape=rectangle", "emitter.extent=4,1,4", "emitter.position=0,2,0",
                       "emitter.speed=0", "emitter.size=0.4±0.2"});
  const SceneFramePtr frame = simulate(scene, 60);
  const BirthSize size(*scene.findByName("emitter"), 1);
  for (std::size_t i = 0; i < 200; ++i)
    ASSERT_NEAR(positionOf(onlyGroup(frame), i).y, 0.5 * size.diameter(onlyGroup(frame).ids()[i]), 1e-3);
}

TEST(Deflect, WhatIsBornInsideIsPushedOutAndCounted) {
  Scene scene = withInfluence(oneBurst(1000), "deflector",
                              {"deflector.shape=box", "deflector.size=2,2,2", "deflector.position=0,1,0"});
  // Half of the births lie in it.
  scene = with(scene, {"emitter.shape=box", "emitter.extent=1,2,1", "emitter.speed=0"});
  const SceneFramePtr frame = simulate(scene, 2);
  std::uint64_t caught = 0;
  for (const DeflectionStats& stats : frame->report->deflections) caught += stats.caught;
  EXPECT_NEAR(static_cast<double>(caught), 500, 60);
  for (std::size_t i = 0; i < 1000; ++i) {
    const Vec3d out = glm::abs(positionOf(onlyGroup(frame), i) - Vec3d(0, 1, 0));
    ASSERT_GE(std::max({out.x, out.y, out.z}), 1 - 1e-6);
  }
  EXPECT_TRUE(simulate(scene, 3)->report->deflections.empty()) << "once they are out they stay out";
}

TEST(Deflect, RoughnessScattersAndKeepsTheSpeed) {
  Scene scene = withInfluence(oneBurst(2000), "deflector",
                              {"deflector.bounce=100", "deflector.friction=0", "deflector.roughness=30"});
  scene = with(scene, {"emitter.position=0,1,0", "emitter.direction=0,-1,0", "emitter.speed=30"});
  const SceneFramePtr frame = simulate(scene, 4);
  Vec3d sum(0.0);
  double widest = 0;
  for (std::size_t i = 0; i < 2000; ++i) {
    const Vec3d v = velocityOf(onlyGroup(frame), i);
    ASSERT_NEAR(glm::length(v), 30, 1e-3);
    widest = std::max(widest, std::acos(std::min(1.0, v.y / 30)));
    sum += v / 2000.0;
  }
  EXPECT_NEAR(widest, kPi / 6, 0.02);
  EXPECT_LT(std::hypot(sum.x, sum.z), 1);
}

// A ball of triangles about the origin, by cutting the faces of an octahedron again and again.
Mesh ballOf(double radius, int cuts) {
  std::vector<std::array<Vec3d, 3>> faces;
  for (const double x : {-1.0, 1.0})
    for (const double y : {-1.0, 1.0})
      for (const double z : {-1.0, 1.0}) {
        // Counter-clockwise seen from outside, whichever eighth it is.
        const bool flips = x * y * z < 0;
        faces.push_back({Vec3d(x, 0, 0), flips ? Vec3d(0, 0, z) : Vec3d(0, y, 0),
                         flips ? Vec3d(0, y, 0) : Vec3d(0, 0, z)});
      }
  for (int cut = 0; cut < cuts; ++cut) {
    std::vector<std::array<Vec3d, 3>> finer;
    for (const auto& [a, b, c] : faces) {
      const Vec3d ab = glm::normalize(a + b), bc = glm::normalize(b + c), ca = glm::normalize(c + a);
      for (const auto& face :
           {std::array{a, ab, ca}, std::array{ab, b, bc}, std::array{ca, bc, c}, std::array{ab, bc, ca}})
        finer.push_back(face);
    }
    faces = std::move(finer);
  }
  Mesh mesh;
  std::map<std::array<float, 3>, std::uint32_t> known;
  for (const auto& face : faces) {
    Mesh::Triangle triangle{};
    for (std::size_t i = 0; i < 3; ++i) {
      const Vec3 at(face[i] * radius);
      const auto [found, isNew] =
          known.emplace(std::array{at.x, at.y, at.z}, static_cast<std::uint32_t>(mesh.points.size()));
      if (isNew) {
        mesh.points.push_back(at);
        mesh.normals.push_back(Vec3(glm::normalize(face[i])));
      }
      triangle[i] = found->second;
    }
    mesh.triangles.push_back(triangle);
  }
  mesh.parts.assign(mesh.triangles.size(), 0);
  mesh.partNames = {{}};
  return mesh;
}

Scene withMesh(const Scene& scene, const Mesh& mesh) {
  ParamValue value;
  value.base = FileRef{"made here", std::make_shared<const MeshContent>(mesh), {}};
  return with(scene.withParam(scene.findByName("deflector")->id, "mesh", value), {"deflector.shape=mesh"});
}

TEST(MeshDeflector, ABallOfTrianglesIsABall) {
  ASSERT_TRUE(MeshContent(ballOf(2, 3)).report().isClosed());
  const Scene scene = withInfluence(test::starting(), "deflector", {"deflector.mesh_scale=1.5"});
  const DeflectorShape shape =
      DeflectorShape(*withMesh(scene, ballOf(2, 5)).findByName("deflector"), 1).readyToMeet({});
  for (const Vec3d& from : {Vec3d(4, 1, 0), Vec3d(0.5, 0.2, 0.3), Vec3d(-1, -5, 2), Vec3d(2, 1, -1.5)}) {
    EXPECT_NEAR(shape.at(from).distance, glm::length(from) - 3, 5e-3);
    EXPECT_GT(glm::dot(shape.at(from).normal, glm::normalize(from)), 0.99);
    EXPECT_EQ(shape.isInside(from), glm::length(from) < 3);
  }
  const auto crossing = shape.crossing({6, 0.1, 0.2}, {0, 0.1, 0.2});
  ASSERT_TRUE(crossing);
  EXPECT_NEAR(crossing->fraction, 0.5, 2e-3);
  EXPECT_GT(crossing->normal.x, 0.99);
  EXPECT_TRUE(std::isinf(shape.at({6, 0, 0}, 2).distance)) << "not looked for so far away";
}

class MetBy : public ::testing::TestWithParam<const char*> {
 protected:
  Scene metByIt(const Scene& scene) const {
    return with(scene, {std::string("deflector.collision_test=") + GetParam()});
  }
};

INSTANTIATE_TEST_SUITE_P(Ways, MetBy, ::testing::Values("rays", "distance_field"));

TEST_P(MetBy, NothingEscapesFromAClosedMeshThatTurns) {
  Scene scene = withInfluence(
      underGravity(oneBurst(1500)), "deflector",
      {"deflector.inside_out=true", "deflector.bounce=40", "deflector.friction=0.2",
       R"(deflector.rotation={"keys":[{"frame":1,"value":[0,0,0],"to_next":"linear"},{"frame":121,"value":[400,0,700]}]})"});
  scene = metByIt(withMesh(scene, ballOf(2, 2)));
  scene = with(scene,
               {"emitter.shape=sphere", "emitter.radius=1.5", "emitter.launch=random", "emitter.speed=10±8"});
  Frames run(scene);
  for (int frame = 1; frame <= 97; frame += 8) {
    const SceneFramePtr now = run.frame(frame);
    ASSERT_EQ(onlyGroup(now).size(), 1500U);
    const Item& item = *scene.findByName("deflector");
    const DeflectorShape shape = DeflectorShape(item, frame).readyToMeet({});
    const Mat3d turn = rotationFromDegrees(item.vector("rotation", frame));
    for (std::size_t i = 0; i < 1500; ++i)
      ASSERT_GT(shape.at(glm::transpose(turn) * positionOf(onlyGroup(now), i)).distance, -1e-4)
          << "frame " << frame;
  }
}

TEST(MeshDeflector, FastParticlesBounceOffAnOpenMeshFromBothSides) {
  Mesh sheet;
  sheet.points = {{-50, 0, -50}, {50, 0, -50}, {50, 0, 50}, {-50, 0, 50}};
  sheet.normals.assign(4, Vec3(0, 1, 0));
  sheet.triangles = {{0, 2, 1}, {0, 3, 2}};
  sheet.parts = {0, 0};
  sheet.partNames = {{}};
  Scene scene = withInfluence(oneBurst(1000), "deflector", {"deflector.bounce=100", "deflector.friction=0"});
  scene = withMesh(
      with(scene, {"emitter.shape=box", "emitter.extent=4,2,4", "emitter.speed=300", "emitter.cone=50"}),
      sheet);
  for (const bool fromBelow : {false, true}) {
    const Scene side = with(scene, {fromBelow ? "emitter.position=0,-4,0" : "emitter.position=0,4,0",
                                    fromBelow ? "emitter.direction=0,1,0" : "emitter.direction=0,-1,0"});
    const SceneFramePtr now = simulate(side, 3);
    for (std::size_t i = 0; i < 1000; ++i) {
      const Vec3d p = positionOf(onlyGroup(now), i), v = velocityOf(onlyGroup(now), i);
      ASSERT_GT(fromBelow ? -p.y : p.y, 0);
      ASSERT_NEAR(glm::length(v), 300, 0.1);
      ASSERT_GT(fromBelow ? -v.y : v.y, 0);
    }
  }
}

TEST_P(MetBy, WhatRestsOnItStaysAtRest) {
  Scene scene = withInfluence(underGravity(oneBurst(300)), "deflector",
                              {"deflector.bounce=20", "deflector.friction=0.8", "deflector.position=0,-2,0"});
  // The top of a box.
  Mesh box;
  for (int corner = 0; corner < 8; ++corner)
    box.points.emplace_back(corner & 1 ? 4 : -4, corner & 2 ? 2 : -2, corner & 4 ? 4 : -4);
  box.normals.assign(8, Vec3(0, 1, 0));
  box.triangles = {{0, 2, 3}, {0, 3, 1}, {4, 5, 7}, {4, 7, 6}, {0, 4, 6}, {0, 6, 2},
                   {1, 3, 7}, {1, 7, 5}, {0, 1, 5}, {0, 5, 4}, {2, 6, 7}, {2, 7, 3}};
  box.parts.assign(12, 0);
  box.partNames = {{}};
  scene = withMesh(with(scene, {"emitter.shape=box", "emitter.extent=5,1,5", "emitter.position=0,1.5,0",
                                "emitter.launch=random", "emitter.speed=1"}),
                   box);
  scene = metByIt(scene);
  Frames run(scene);
  const SceneFramePtr then = run.frame(1 + 24 * 5), later = run.frame(1 + 24 * 7);
  for (std::size_t i = 0; i < 300; ++i) {
    const Vec3d v = velocityOf(onlyGroup(then), i);
    ASSERT_LT(0.5 * glm::dot(v, v), 1e-8);
    ASSERT_LT(glm::length(positionOf(onlyGroup(later), i) - positionOf(onlyGroup(then), i)), 1e-5);
    ASSERT_NEAR(positionOf(onlyGroup(then), i).y, 0, 1e-3);
  }
}

TEST(MeshDeflector, ParticlesWithASizeAreStoppedByTheirRimsBesideEdgesToo) {
  // Balls of radius 0.3 fall past the edge of a block, their middles outside of it: rays would miss it.
  Scene scene =
      withInfluence(oneBurst(), "deflector",
                    {"deflector.particle_radius=100", "deflector.bounce=100", "deflector.friction=0"});
  scene = withMesh(with(scene, {"emitter.size=0.6", "emitter.position=1.1,3,0", "emitter.direction=0,-1,0"}),
                   test::boxMesh(Vec3d(2.0)));
  scene = with(scene, {"deflector.field_resolution=128"});
  ASSERT_TRUE(DeflectorShape(*scene.findByName("deflector"), 1).isMetByField()) << "it fits";
  Frames run(scene);
  std::vector<SurfaceHit> hits;
  for (int frame = 1; frame <= 40; ++frame)
    hits.insert(hits.end(), run.frame(frame)->report->hits.begin(), run.frame(frame)->report->hits.end());
  ASSERT_FALSE(hits.empty());
  const double nearest = glm::length(glm::max(glm::abs(Vec3d(hits[0].position)) - 1.0, Vec3d(0.0)));
  EXPECT_NEAR(nearest, 0.3, 0.02);
  EXPECT_GT(velocityOf(onlyGroup(run.frame(40)), 0).x, 0.5) << "thrown aside by the edge";
}

TEST(PictureDeflector, ACutOutIsAWallAndAReliefAGround) {
  Picture disc(64, 64);
  for (int y = 0; y < 64; ++y)
    for (int x = 0; x < 64; ++x)
      if (std::hypot(x - 31.5, y - 31.5) < 16) disc.at(x, y) = Vec4(1.0F);
  ParamValue picture;
  picture.base = FileRef{"made here", std::make_shared<const PictureContent>(disc), {}};
  const auto fallOnto = [&](std::initializer_list<std::string> settings) {
    Scene scene = withInfluence(underGravity(oneBurst()), "deflector", {"deflector.bounce=0"});
    scene = scene.withParam(scene.findByName("deflector")->id, "picture", picture);
    scene =
        with(with(scene, {"emitter.speed=0", "emitter.position=0,3,0", "deflector.friction=1"}), settings);
    return positionOf(onlyGroup(simulate(scene, 48)), 0).y;
  };
  // The disc's radius is a quarter of the picture's width.
  EXPECT_NEAR(fallOnto({"deflector.shape=cut_out", "deflector.picture_width=4"}), 1, 0.04);
  EXPECT_NEAR(
      fallOnto({"deflector.shape=heightmap", "deflector.picture_width=4", "deflector.heightmap_height=1.5"}),
      1.5, 0.01);
}

TEST(MeshDeflector, WithoutItsFileStopsNothing) {
  const Scene scene = withInfluence(underGravity(oneBurst()), "deflector", {"deflector.shape=mesh"});
  EXPECT_LT(positionOf(onlyGroup(simulate(scene, 60)), 0).y, -10);
}

TEST(Deflect, IsTheSameWhateverTheThreads) {
  Scene scene = withInfluence(
      underGravity(oneBurst(9000)), "deflector",
      {"deflector.shape=box", "deflector.inside_out=true", "deflector.size=4,4,4", "deflector.roughness=20",
       R"(deflector.rotation={"keys":[{"frame":1,"value":[0,0,0],"to_next":"linear"},{"frame":40,"value":[200,0,300]}]})"});
  scene =
      with(scene, {"emitter.shape=box", "emitter.extent=3,3,3", "emitter.launch=random", "emitter.speed=6"});
  scene = withInfluence(scene, "bend", {});
  const auto run = [&scene](int threads) {
    const ThreadLimit limit(threads);
    return simulate(scene, 30);
  };
  const SceneFramePtr one = run(1), all = run(0);
  EXPECT_EQ(one->particles->digest(), all->particles->digest());
  EXPECT_EQ(hitsOf(*one), hitsOf(*all));
}

}  // namespace
}  // namespace comet
