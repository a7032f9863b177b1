#include "simulation/loop.h"

#include "bake/bake_sheet.h"
#include "bake/loop_check.h"
#include "scene_files.h"
#include "support/scenes.h"

#include <gmock/gmock.h>

namespace comet {
namespace {

using test::with;
using test::withInfluence;

// 24 frames a round, lives of up to 1.7 rounds, and everything that changes by itself.
Scene looping() {
  Scene scene =
      with(test::starting(), {"scene.exact_loop=true", "scene.first_frame=1", "scene.last_frame=24",
                              "emitter.rate=37.3±5", "emitter.lifetime=1.2±0.5", "emitter.wander=0.5",
                              "emitter.size=1±0.4", R"(emitter.bursts=[{"frame":1,"count":6}])"});
  scene = withInfluence(scene, "turbulence", {"turbulence.change_rate=0.3"});
  scene = withInfluence(scene, "wind", {"wind.gusts=80", "wind.gust_period=0.4"});
  return withInfluence(scene, "kicks", {"kicks.rate=3"});
}

TEST(Loop, TheFrameAfterTheLastIsTheFirst) {
  const Scene scene = looping();
  SceneRun run(scene, test::roomyCache());
  for (const int frame : {1, 7, 24}) {
    const SceneFramePtr now = run.frame(frame), again = run.frame(frame + 24), later = run.frame(frame + 72);
    EXPECT_GT(now->report->stats.living, 20U);
    EXPECT_TRUE(areSameButRound(*now->particles, *again->particles)) << frame;
    EXPECT_TRUE(areSameButRound(*now->particles, *later->particles)) << frame;
    EXPECT_FALSE(areSameButRound(*now->particles, *run.frame(frame + 1)->particles));
  }
}

TEST(Loop, ABurstOnTheFirstFrameComesOnceARound) {
  const Scene scene =
      with(test::oneBurst(5), {"scene.exact_loop=true", "scene.last_frame=12", "emitter.lifetime=0.4"});
  SceneRun run(scene, test::roomyCache());
  const int first = frameRange(scene).first;
  for (int frame = first + 1; frame <= first + 36; ++frame)
    EXPECT_EQ(run.frame(frame)->report->stats.births, (frame - first) % 12 == 0 ? 5U : 0U) << frame;
}

TEST(Loop, ARepeatOfABurstOnTheFirstFrameComesOnceARoundToo) {
  // On frames -9, 1, 11, 21: of these 1 and 11 are in the round, which goes on at 13.
  const Scene scene =
      with(test::starting(),
           {"emitter.rate=0", "scene.exact_loop=true", "scene.last_frame=12", "emitter.lifetime=0.4",
            R"(emitter.bursts=[{"frame":-9,"count":3,"every":10,"times":4}])"});
  SceneRun run(scene, test::roomyCache());
  for (int frame = 2; frame <= 37; ++frame)
    EXPECT_EQ(run.frame(frame)->report->stats.births, frame % 12 == 1 || frame % 12 == 11 ? 3U : 0U) << frame;
}

TEST(Loop, TheClockNamesTheRoundsThatBegin) {
  const StepClock clock(looping());
  EXPECT_EQ(clock.firstFrame(), 1 - 48);
  EXPECT_EQ(clock.cycleThatBegins(-47), std::nullopt) << "no step leads there";
  EXPECT_EQ(clock.cycleThatBegins(-46), 1U);
  EXPECT_EQ(clock.cycleThatBegins(2), 3U);
  EXPECT_EQ(clock.cycleThatBegins(3), std::nullopt);
  EXPECT_EQ(clock.step(26).frame, 2);
  EXPECT_EQ(clock.step(25).frame, 25) << "the step to the next round's first frame belongs to this one";
  EXPECT_EQ(StepClock(with(looping(), {"scene.exact_loop=false"})).cycleThatBegins(2), std::nullopt);
}

TEST(Loop, ParticlesOfNeighbouringRoundsAreTwo) {
  const Scene scene = looping();
  const ParticleStore& particles = test::simulate(scene, 24)->particles->groups.front().particles;
  std::vector<ParticleId> ids(particles.ids(), particles.ids() + particles.size());
  EXPECT_TRUE(std::is_sorted(ids.begin(), ids.end()));
  EXPECT_EQ(std::adjacent_find(ids.begin(), ids.end()), ids.end());
}

TEST(Loop, ChildrenAndRulesRepeatToo) {
  Scene scene =
      test::withChild(looping(), "parent_life", {"child.lifetime=0.4", "child.births_per_second=8"});
  SceneRun run(scene, test::roomyCache());
  EXPECT_GT(run.frame(5)->particles->groups.back().particles.size(), 50U);
  EXPECT_TRUE(areSameButRound(*run.frame(5)->particles, *run.frame(29)->particles));
}

TEST(Loop, WarmsUpForWholeRoundsUntilTheLongestLifeIsOver) {
  const Scene scene = looping();
  EXPECT_EQ(warmUpFrames(scene), 48) << "1.7 s are two rounds of one second";
  const Scene child = test::withChild(scene, "parent_life", {"child.lifetime=1"});
  EXPECT_EQ(warmUpFrames(child), 72) << "a child may be born at its parent's end";
  EXPECT_EQ(warmUpFrames(with(scene, {"scene.exact_loop=false"})), 0);
}

TEST(Loop, WhatCannotRepeatIsTold) {
  EXPECT_THAT(loopProblems(looping()), testing::IsEmpty());
  EXPECT_THAT(loopProblems(with(looping(), {"emitter.lifetime_mode=endless"})),
              testing::ElementsAre(testing::HasSubstr("endless")));
  EXPECT_THAT(loopProblems(withInfluence(looping(), "flock")),
              testing::ElementsAre(testing::HasSubstr("cross-fade")));
  EXPECT_THAT(loopProblems(with(looping(), {"scene.exact_loop=false", "emitter.lifetime_mode=endless"})),
              testing::IsEmpty());
}

TEST(Loop, RatesGoThroughWholeRounds) {
  EXPECT_DOUBLE_EQ(wholeCycles(0.3, 2), 0.5);
  EXPECT_DOUBLE_EQ(wholeCycles(-0.9, 2), -1);
  EXPECT_DOUBLE_EQ(wholeCycles(0.01, 2), 0.5) << "once at least, or it would stand still";
  EXPECT_DOUBLE_EQ(wholeCycles(0, 2), 0);
  EXPECT_DOUBLE_EQ(wholeCycles(0.3, 0), 0.3);
}

// Demo scenes as they are, but for the flag.
class LoopOfDemo : public testing::TestWithParam<const char*> {};

TEST_P(LoopOfDemo, IsExactInParticlesAndPixels) {
  Scene scene = openDemo(GetParam());
  const ItemId bake = scene.itemsOf(ItemFamily::Bake).front()->id;
  const std::string name = scene.find(bake)->name;
  scene = with(scene, {"scene.exact_loop=true", name + ".loop=exact", name + ".frame_choice=time",
                       name + ".cell_width=48", name + ".cell_height=48", name + ".supersampling=1"});
  SceneRun run(scene, test::roomyCache());
  const Flipbook book = bakeFlipbook(run, flipbookLayout(scene, *scene.find(bake)), Progress());
  EXPECT_TRUE(book.isExact) << book.loopProblem;
  EXPECT_GT(book.cells.front().energy, 0);
}

INSTANTIATE_TEST_SUITE_P(Demos, LoopOfDemo, testing::Values("funnel_sparks", "paddle_spray", "salt_devil"));

}  // namespace
}  // namespace comet
