// Births as numbers: when they happen, who they are, and what other emitters have to do with it (nothing).
#include "simulation/emission/emission.h"

#include "support/scenes.h"

#include <algorithm>
#include <rapidcheck.h>
#include <set>

namespace comet {
namespace {

using test::simulate;
using test::with;

EmissionPlan planWith(double rateAtStart, double rateAtEnd, double length) {
  EmissionPlan plan;
  plan.length = length;
  plan.rateAtStart = rateAtStart;
  plan.rateAtEnd = rateAtEnd;
  plan.emitsUntil = length;
  plan.path.poses = {ShapePath::Placement()};
  return plan;
}

TEST(BirthTimes, LieInTheStepInOrderAndLoseNothing) {
  EXPECT_TRUE(rc::check([] {
    BirthState state;
    double due = 0;
    std::uint64_t born = 0;
    for (int step = 0; step < 20; ++step) {
      const double length = *rc::gen::inRange(1, 100) / 500.0;
      const EmissionPlan plan = planWith(*rc::gen::inRange(0, 3000), *rc::gen::inRange(0, 3000), length);
      due += 0.5 * (plan.rateAtStart + plan.rateAtEnd) * length;
      const BirthTimes births = birthTimes(plan, state, 1000000);
      RC_ASSERT(std::is_sorted(births.times.begin(), births.times.end()));
      for (const double time : births.times) RC_ASSERT(time >= 0 && time <= length);
      born += births.times.size();
      RC_ASSERT(births.after.next == born);
      RC_ASSERT(births.after.carry >= 0 && births.after.carry < 1);
      state = births.after;
    }
    RC_ASSERT(std::abs(static_cast<double>(born) + state.carry - due) < 1e-6);
  }));
}

// Birth n of a steady rate is seen in the first frame at or after n / rate seconds, at any rate of frames.
TEST(BirthTimes, ComeInTheFrameThatTheyBelongTo) {
  for (const int framesPerSecond : {24, 25, 30, 60})
    for (const int rate : {1, 2, 3, 5, 6, 10, 24, 48, 100}) {
      BirthState state;
      for (int step = 1; step <= 40 * framesPerSecond; ++step) {
        state = birthTimes(planWith(rate, rate, 1.0 / framesPerSecond), state, 1000).after;
        ASSERT_EQ(state.next, static_cast<std::uint64_t>(step * rate / framesPerSecond))
            << rate << " a second, step " << step << " of 1 / " << framesPerSecond;
      }
    }
}

TEST(BirthTimes, FollowARisingRate) {
  // From 0 to 200 a second in one second: the n-th of 100 births comes at sqrt(n / 100).
  const BirthTimes births = birthTimes(planWith(0, 200, 1), {}, 1000);
  ASSERT_EQ(births.times.size(), 100U);
  for (std::size_t n = 1; n <= 100; ++n)
    EXPECT_NEAR(births.times[n - 1], std::sqrt(static_cast<double>(n) / 100), 1e-9);
}

TEST(BirthTimes, AreEvenAtASteadyRateAcrossSteps) {
  BirthState state;
  std::vector<double> all;
  for (int step = 0; step < 50; ++step) {
    const BirthTimes births = birthTimes(planWith(37, 37, 1.0 / 24), state, 1000);
    for (const double time : births.times) all.push_back(step / 24.0 + time);
    state = births.after;
  }
  for (std::size_t i = 1; i < all.size(); ++i) EXPECT_NEAR(all[i] - all[i - 1], 1.0 / 37, 1e-9);
}

TEST(BirthTimes, NoRateNoBirths) {
  EXPECT_TRUE(birthTimes(planWith(0, 0, 1), {}, 1000).times.empty());
  EXPECT_TRUE(birthTimes(planWith(100, 100, 0), {}, 1000).times.empty());
}

TEST(BirthTimes, AreListedOnlyAsFarAsAllowedButCountedInFull) {
  EmissionPlan plan = planWith(500, 500, 1);
  plan.bursts = {{0.5, 0, 5000000000}, {0.7, 0, 7}};
  const BirthTimes births = birthTimes(plan, {}, 600);
  EXPECT_EQ(births.times.size(), 600U);
  EXPECT_EQ(births.wanted, 5000000507U);
  EXPECT_EQ(births.after.next, 5000000507U);
}

TEST(Emitters, AThousandMillionBirthsAtOnceAreRefusedAndCounted) {
  std::string bursts;
  for (int i = 0; i < 200; ++i) bursts += std::string(i ? "," : "") + R"({"frame":1,"count":5000000})";
  const Scene scene = with(test::starting(), {"emitter.bursts=[" + bursts + "]", "scene.max_particles=1000"});
  const SceneFramePtr frame = simulate(scene, 1);
  EXPECT_EQ(frame->report->stats.living, 1000U);
  EXPECT_EQ(frame->report->stats.refused, 1000000000U - 1000U);
}

TEST(Identity, IsUniqueAndRises) {
  Scene scene = test::busyScene();
  scene = scene.withAdded(newItem(*catalog().find("emitter"), "second"));
  const SceneFramePtr frame = simulate(scene, 30);
  std::set<ParticleId> seen;
  for (const ParticleGroup& group : frame->particles->groups) {
    const ParticleId* ids = group.particles.ids();
    EXPECT_TRUE(std::is_sorted(ids, ids + group.particles.size()));
    seen.insert(ids, ids + group.particles.size());
  }
  EXPECT_EQ(seen.size(), frame->report->stats.living);
  EXPECT_EQ(frame->particles->groups.size(), scene.itemsOf(ItemFamily::Emitter).size());
}

TEST(Emitters, DoNotChangeEachOther) {
  // But where their particles touch, or share the points that they arrive at.
  Scene one = test::busyScene();
  for (const char* shared : {"contact", "arrive"}) one = one.withEnabled(one.findByName(shared)->id, false);
  const Scene two = with(one.withAdded(newItem(*catalog().find("emitter"), "second")), {"second.rate=777"});
  const SceneFramePtr alone = simulate(one, 25), together = simulate(two, 25);
  const ItemId id = one.findByName("emitter")->id;
  const ParticleStore &a = alone->particles->find(id)->particles,
                      &b = together->particles->find(id)->particles;
  ASSERT_EQ(a.size(), b.size());
  for (std::size_t i = 0; i < a.size(); ++i) {
    EXPECT_EQ(a.ids()[i], b.ids()[i]);
    EXPECT_EQ(test::positionOf(a, i), test::positionOf(b, i));
  }
}

TEST(Emitters, OfTheSameSettingsThrowDifferently) {
  const Scene scene = with(test::starting().withAdded(newItem(*catalog().find("emitter"), "second")),
                           {"emitter.cone=60", "second.cone=60"});
  const SceneFramePtr frame = simulate(scene, 10);
  EXPECT_NE(test::velocityOf(frame->particles->groups[0].particles, 0),
            test::velocityOf(frame->particles->groups[1].particles, 0));
}

TEST(Emitters, ThatAreOffHaveNoParticles) {
  Scene scene = test::busyScene();
  scene = scene.withEnabled(scene.findByName("emitter")->id, false);
  EXPECT_EQ(simulate(scene, 20)->report->stats.living, 0U);
}

TEST(Emitters, ServedInOrderWhenTheLimitIsReached) {
  Scene scene = with(test::oneBurst(600), {"scene.max_particles=1000"});
  scene = with(scene.withAdded(newItem(*catalog().find("emitter"), "second")),
               {"second.rate=0", "second.lifetime=100", R"(second.bursts=[{"frame":1,"count":600}])"});
  const SceneFramePtr frame = simulate(scene, 1);
  EXPECT_EQ(frame->particles->groups[0].particles.size(), 600U);
  EXPECT_EQ(frame->particles->groups[1].particles.size(), 400U);
  EXPECT_EQ(frame->report->stats.refused, 200U);
}

TEST(Emitters, TurnWithTheirKeysWithinAFrame) {
  // A quarter turn a frame, births thrown along x at one unit per frame from a point: directions fill the
  // quarter.
  const Scene scene =
      with(test::starting(),
           {"emitter.rate=2400", "emitter.cone=0", "emitter.lifetime=100", "emitter.direction=1,0,0",
            R"(emitter.rotation={"keys":[{"frame":1,"value":[0,0,0],"to_next":"linear"},
                                                       {"frame":2,"value":[0,0,90]}]})"});
  const SceneFramePtr frame = simulate(scene, 2);
  const ParticleStore& particles = frame->particles->groups.front().particles;
  ASSERT_NEAR(static_cast<double>(particles.size()), 100, 1);
  double previous = -1;
  for (std::size_t i = 0; i < particles.size(); ++i) {
    const Vec3d velocity = test::velocityOf(particles, i);
    const double angle = std::atan2(velocity.y, velocity.x) * 180 / kPi;
    EXPECT_GT(angle, previous);
    EXPECT_NEAR(angle, 90 * (static_cast<double>(i) + 1) / 100, 2);
    previous = angle;
  }
}

}  // namespace
}  // namespace comet
