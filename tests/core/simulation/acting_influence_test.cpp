// Where, when and on whom influences act: the same for all kinds, shown with gravity.
#include "simulation/acting_influence.h"

#include "simulation/plan.h"
#include "support/scenes.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

using test::oneBurst;
using test::onlyGroup;
using test::simulate;
using test::velocityOf;
using test::with;
using test::withInfluence;

// One particle at rest, and gravity of 10 with what is asked for besides.
Scene falling(std::initializer_list<std::string> settings) {
  Scene scene = with(withInfluence(oneBurst(), "gravity", {"gravity.strength=10"}), {"emitter.speed=0"});
  return with(scene, settings);
}

double speedAt(const Scene& scene, int frame) { return -velocityOf(onlyGroup(simulate(scene, frame)), 0).y; }

// How much of the influence acts on a particle at rest there, 0 to 1.
double fractionAt(const std::string& place, std::initializer_list<std::string> settings) {
  return speedAt(with(falling(settings), {"emitter.position=" + place, "scene.frame_rate=240"}), 2) * 24;
}

TEST(Reach, SphereActsWithinItAndFadesOverItsSoftEdge) {
  const auto fraction = [](const std::string& place) {
    return fractionAt(place, {"gravity.reach=sphere", "gravity.reach_position=1,0,0",
                              "gravity.reach_radius=2", "gravity.reach_soft_edge=50"});
  };
  EXPECT_NEAR(fraction("1,0,0"), 1, 1e-3);
  EXPECT_NEAR(fraction("1.9,0,0"), 1, 1e-3);
  // Half way through the fade, which is the same on both sides of its middle.
  EXPECT_NEAR(fraction("2.5,0,0"), 0.5, 1e-3);
  EXPECT_NEAR(fraction("1,0,1.75"), 1 - (3 * 0.75 * 0.75 - 2 * 0.75 * 0.75 * 0.75), 1e-2);
  EXPECT_EQ(fraction("3.01,0,0"), 0);
}

TEST(Reach, BoxAndCylinderAreTurnedWithTheirSizes) {
  const std::initializer_list<std::string> box{"gravity.reach=box", "gravity.reach_size=8,2,2",
                                               "gravity.reach_rotation=0,0,90", "gravity.reach_soft_edge=0"};
  EXPECT_EQ(fractionAt("0,3.9,0", box), fractionAt("0,0,0", box));
  EXPECT_GT(fractionAt("0,3.9,0", box), 0.99);
  EXPECT_EQ(fractionAt("3.9,0,0", box), 0);
  EXPECT_EQ(fractionAt("0,4.1,0", box), 0);
  const std::initializer_list<std::string> cylinder{"gravity.reach=cylinder", "gravity.reach_radius=1",
                                                    "gravity.reach_height=6", "gravity.reach_soft_edge=0"};
  EXPECT_GT(fractionAt("0.7,2.9,0.7", cylinder), 0.99);
  EXPECT_EQ(fractionAt("0.8,0,0.8", cylinder), 0);
  EXPECT_EQ(fractionAt("0,3.1,0", cylinder), 0);
}

TEST(Reach, InsideOutActsOnTheRest) {
  const std::initializer_list<std::string> outside{"gravity.reach=sphere", "gravity.reach_radius=1",
                                                   "gravity.reach_soft_edge=0", "gravity.reach_invert=true"};
  EXPECT_EQ(fractionAt("0,0.5,0", outside), 0);
  EXPECT_NEAR(fractionAt("0,1.5,0", outside), 1, 1e-3);
}

TEST(Window, ActsFromFrameToFrame) {
  const Scene scene = falling({"gravity.acts=frame_range", "gravity.acts_from=13", "gravity.acts_until=24"});
  EXPECT_EQ(speedAt(scene, 12), 0);
  // The steps that lead to frames 13 … 24 have their middles at 12.5 … 23.5; the first of them comes too
  // early.
  EXPECT_NEAR(speedAt(scene, 60), 10 * 11 / 24.0, 1e-4);
}

TEST(Window, NeedNotBeginAndEndWithFrames) {
  for (const char* substeps : {"1", "2", "5"}) {
    const Scene scene =
        with(falling({"gravity.acts=frame_range", "gravity.acts_from=13.3", "gravity.acts_until=24.8"}),
             {std::string("scene.substeps=") + substeps});
    EXPECT_NEAR(speedAt(scene, 60), 10 * 11.5 / 24, 1e-4) << substeps;
    EXPECT_NEAR(speedAt(scene, 14), 10 * 0.7 / 24, 1e-4) << substeps;
  }
}

TEST(Window, SetsInAndFadesSoftly) {
  const Scene scene = falling({"gravity.acts=frame_range", "gravity.acts_from=1", "gravity.acts_until=49",
                               "gravity.fade_in=24", "gravity.fade_out=24"});
  // Both fades take half of what a full second would give.
  EXPECT_NEAR(speedAt(scene, 60), 10, 1e-2);
  EXPECT_NEAR(speedAt(scene, 25), 5, 1e-2);
}

TEST(Window, LeavesTheFramesBeforeItAlone) {
  const Scene without = with(falling({}), {"gravity.strength=0"});
  const Scene with120 =
      falling({"gravity.acts=frame_range", "gravity.acts_from=120", "gravity.acts_until=200"});
  const Scene stronger = with(with120, {"gravity.strength=20"});
  for (const int frame : {1, 60, 119, 120})
    EXPECT_EQ(planFrame(with120, frame).digest, planFrame(stronger, frame).digest) << frame;
  EXPECT_NE(planFrame(with120, 121).digest, planFrame(stronger, 121).digest);
  EXPECT_TRUE(planFrame(with120, 100).emitters.front().influences.empty());
  EXPECT_FALSE(planFrame(without, 100).emitters.front().influences.empty());
}

TEST(AgeWindow, ActsBetweenTwoAges) {
  EXPECT_NEAR(
      speedAt(falling({"gravity.age_range=between", "gravity.age_from=0.5", "gravity.age_until=1"}), 60), 5,
      0.02);
  EXPECT_NEAR(speedAt(falling({"gravity.age_range=from", "gravity.age_from=0.5"}), 25), 5, 0.02);
  EXPECT_NEAR(speedAt(falling({"gravity.age_range=until", "gravity.age_until=0.25"}), 60), 2.5, 0.02);
}

TEST(AgeWindow, CountsFromEachBirthAndMayDifferBetweenParticles) {
  Scene scene = falling({"gravity.age_range=from", "gravity.age_from=1±0.5", "emitter.rate=600",
                         "emitter.lifetime=100", "scene.substeps=2"});
  const SceneFramePtr frame = simulate(scene, 49);
  const ParticleStore& particles = onlyGroup(frame);
  int began = 0, near = 0;
  for (std::size_t i = 0; i < particles.size(); ++i) {
    const double age = particles.field(ParticleStore::Age)[i], speed = -velocityOf(particles, i).y;
    ASSERT_TRUE(age >= 0.49 || speed == 0) << age;
    ASSERT_TRUE(age <= 1.55 || speed > 0) << age;
    ASSERT_LE(speed, std::max(0.0, 10 * (age - 0.5) + 0.3));
    if (std::abs(age - 1) < 0.05) ++near, began += speed > 0 ? 1 : 0;
  }
  ASSERT_GT(near, 50);
  EXPECT_NEAR(static_cast<double>(began) / near, 0.5, 0.15) << "half of them begin before one second";
}

TEST(ResponseOverAge, IsReadByTheShareOfLife) {
  Scene scene = falling({"emitter.lifetime=2"});
  const ItemId emitter = scene.findByName("emitter")->id, gravity = scene.findByName("gravity")->id;
  // Rising from nothing to full over life: after half of it, a quarter of the whole area.
  const Curve rising({{0, 0, Interpolation::Linear}, {1, 1, Interpolation::Linear}});
  scene = scene.withResponse(emitter, gravity, {100, rising});
  EXPECT_NEAR(speedAt(scene, 25), 10 * 1 * 0.25, 0.01);
  EXPECT_NEAR(speedAt(scene.withResponse(emitter, gravity, {-50, rising}), 25), -1.25, 0.01);
}

TEST(Response, HalfOfItIsHalfTheAccelerationExactly) {
  Scene scene = falling({});
  const ItemId emitter = scene.findByName("emitter")->id, gravity = scene.findByName("gravity")->id;
  const double full = speedAt(scene, 2);
  EXPECT_EQ(speedAt(scene.withResponse(emitter, gravity, {50}), 2), 0.5 * full);
  EXPECT_EQ(speedAt(scene.withResponse(emitter, gravity, {-100}), 2), -full);
  EXPECT_EQ(speedAt(scene.withResponse(emitter, gravity, {}), 2), 0);
}

TEST(Forces, OfTwoWindsAddUp) {
  // The air moves with both at once, and holds on with both grips.
  Scene scene =
      with(withInfluence(oneBurst(), "wind", {"wind.speed=6", "wind.direction=1,0,0", "wind.air_drag=3"}),
           {"emitter.speed=0"});
  Item second = *scene.findByName("wind");
  second.id = 0;
  second.name = "breeze";
  scene = with(scene.withAdded(second), {"breeze.speed=4", "breeze.direction=0,0,1", "breeze.air_drag=1"});
  const Vec3d late = velocityOf(onlyGroup(simulate(scene, 24 * 10)), 0);
  EXPECT_NEAR(late.x, 6, 1e-4);
  EXPECT_NEAR(late.z, 4, 1e-4);
  const Vec3d early = velocityOf(onlyGroup(simulate(scene, 13)), 0);
  EXPECT_NEAR(early.x, 6 * (1 - std::exp(-4 * 0.5)), 1e-4);
}

TEST(Mass, HeavierParticlesAnswerLessToForcesAndTheSameToGravity) {
  const auto speed = [](const char* kind, std::initializer_list<std::string> settings, const char* mass) {
    Scene scene = with(withInfluence(oneBurst(), kind, settings), {"emitter.speed=0", mass});
    const Vec3d v = velocityOf(onlyGroup(simulate(scene, 5)), 0);
    return std::sqrt(v.x * v.x + v.y * v.y + v.z * v.z);
  };
  const std::initializer_list<std::string> pull{"attractor.falloff=constant", "attractor.position=0,100,0"};
  EXPECT_NEAR(speed("attractor", pull, "emitter.mass=4") * 4, speed("attractor", pull, "emitter.mass=1"),
              1e-3);
  const std::initializer_list<std::string> near{"gravity.reach=sphere", "gravity.reach_radius=50"};
  EXPECT_NEAR(speed("gravity", near, "emitter.mass=4"), speed("gravity", near, "emitter.mass=1"), 1e-4);
}

}  // namespace
}  // namespace comet
