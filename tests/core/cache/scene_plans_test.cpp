#include "cache/scene_plans.h"

#include "base/error.h"
#include "cache/scene_run.h"
#include "scene/scene_change.h"
#include "simulation/step.h"
#include "support/scenes.h"

#include <atomic>
#include <thread>

namespace comet {
namespace {

using test::busyScene;
using test::roomyCache;
using test::with;

constexpr int kLastPlanned = 12;

TEST(ScenePlans, ARunPlansEachFrameOnce) {
  const auto cache = roomyCache();
  SceneRun run(busyScene(), cache);
  for (int frame = 1; frame <= kLastPlanned; ++frame) (void)run.key(frame);
  for (int frame = kLastPlanned; frame >= 1; --frame) (void)run.frame(frame);
  EXPECT_EQ(cache->plansOf(busyScene())->made(), static_cast<std::size_t>(kLastPlanned));
}

TEST(ScenePlans, AnEditToLooksPlansNothing) {
  const auto cache = roomyCache();
  const Scene scene = busyScene();
  (void)SceneRun(scene, cache).frame(kLastPlanned);
  const auto plans = cache->plansOf(scene);
  const std::size_t made = plans->made();
  const Scene edited = with(scene, {"emitter.opacity=10", "camera.position=1,2,3", "flipbook.columns=2"});
  EXPECT_TRUE(SceneRun(edited, cache).cached(kLastPlanned));
  EXPECT_EQ(cache->plansOf(edited), plans);
  EXPECT_EQ(plans->made(), made);
  EXPECT_NE(cache->plansOf(with(scene, {"emitter.rate=10"})), plans);
}

// A value of the same type as the parameter's, but another one.
ParamValue changedOf(const ParamSpec& spec, const ParamValue& value) {
  ParamValue changed = value;
  if (auto* number = std::get_if<double>(&changed.base)) *number = *number * 0.75 + 3.5;
  if (auto* vector = std::get_if<Vec3d>(&changed.base)) *vector += Vec3d(0.5, 0.25, 0.125);
  if (auto* text = std::get_if<std::string>(&changed.base); text && spec.choices.size() > 1)
    *text = spec.choices.front().id == *text ? spec.choices[1].id : spec.choices.front().id;
  if (auto* flag = std::get_if<bool>(&changed.base)) *flag = !*flag;
  if (auto* curve = std::get_if<Curve>(&changed.base)) *curve = Curve({{0, 1}, {1, 0}});
  if (auto* gradient = std::get_if<Gradient>(&changed.base))
    *gradient = Gradient({{0, Vec3d(0.1, 0.2, 0.3)}});
  return nearestValid(spec, changed);
}

// By the table of parameters: whatever an edit is said not to simulate by leaves every key as it was, also
// where masses and deflectors go by the size.
TEST(ScenePlans, WhatIsNotSimulatedChangesNoKey) {
  const Scene scene =
      with(busyScene(), {"emitter.mass_from_size=50", "deflector.particle_radius=100", "emitter.size=1±0.5"});
  const Digest before = ScenePlans(scene).key(kLastPlanned);
  int tried = 0;
  for (const Scene::ItemPtr& item : scene.items())
    for (std::size_t i = 0; i < item->values.size(); ++i) {
      const ParamSpec& spec = item->kind->params()[i];
      const ParamValue changed = changedOf(spec, item->values[i]);
      if (spec.affectedPart == Affects::Simulation || changed == item->values[i]) continue;
      const Scene edited = scene.withParam(item->id, spec.id, changed);
      if (changeBetween(scene, edited).simulation) continue;
      EXPECT_EQ(ScenePlans(edited).key(kLastPlanned), before) << item->name << "." << spec.id;
      ++tried;
    }
  EXPECT_GT(tried, 100);
  // The size is: here it counts.
  EXPECT_NE(ScenePlans(with(scene, {"emitter.size=2±0.5"})).key(kLastPlanned), before);
}

TEST(ScenePlans, PlanningAndSteppingStopWhenCancelled) {
  const Scene scene = busyScene();
  Progress cancelled;
  cancelled.cancel();
  const auto expectCancelled = [](const auto& act) {
    try {
      act();
      FAIL() << "not cancelled";
    } catch (const Error& error) {
      EXPECT_EQ(error.kind(), ErrorKind::Cancelled);
    }
  };
  ScenePlans plans(scene);
  expectCancelled([&] { (void)plans.key(kLastPlanned, cancelled); });
  const SceneFramePtr frame = SceneRun(scene, roomyCache()).frame(kLastPlanned);
  // Within the step itself: nothing else looks.
  expectCancelled([&] { (void)stepFrame(*frame, planFrame(scene, kLastPlanned + 1), cancelled); });
  EXPECT_NO_THROW((void)plans.key(kLastPlanned)) << "what was given up is planned by whoever comes next";
}

TEST(FrameCache, OfSeveralWhoWantAFrameOneMakesIt) {
  const auto cache = roomyCache();
  const Digest key{1, 2};
  std::atomic<int> made{0};
  const auto make = [&] {
    ++made;
    std::this_thread::sleep_for(std::chrono::milliseconds(30));
    return std::make_shared<const SceneFrame>();
  };
  std::vector<std::thread> threads;
  for (int i = 0; i < 4; ++i)
    threads.emplace_back([&] { EXPECT_TRUE(cache->findOrMake(key, 0, Progress(), make)); });
  for (std::thread& thread : threads) thread.join();
  EXPECT_EQ(made, 1);
}

TEST(FrameCache, WhatOneGivesUpAnotherMakes) {
  const auto cache = roomyCache();
  const Digest key{1, 2};
  EXPECT_THROW((void)cache->findOrMake(key, 0, Progress(),
                                       []() -> SceneFramePtr { throw Error(ErrorKind::Cancelled, "", ""); }),
               Error);
  EXPECT_TRUE(cache->findOrMake(key, 0, Progress(), [] { return std::make_shared<const SceneFrame>(); }));
  Progress cancelled;
  cancelled.cancel();
  EXPECT_THROW((void)cache->findOrMake(Digest{3, 4}, 0, cancelled, [] { return SceneFramePtr(); }), Error);
}

}  // namespace
}  // namespace comet
