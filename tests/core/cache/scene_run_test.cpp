#include "cache/scene_run.h"

#include "base/error.h"
#include "simulation/step.h"
#include "support/scenes.h"

namespace comet {
namespace {

using test::busyScene;
using test::roomyCache;
using test::with;

// Up to which frame two scenes share their keys.
int lastSharedFrame(const Scene& a, const Scene& b, int last) {
  const auto cache = roomyCache();
  SceneRun runA(a, cache), runB(b, cache);
  int frame = 0;
  while (frame < last && runA.key(frame + 1) == runB.key(frame + 1)) ++frame;
  return frame;
}

TEST(SceneRun, ASizeThatNothingGoesByChangesNoKey) {
  Scene scene = busyScene();
  EXPECT_LT(lastSharedFrame(scene, with(scene, {"emitter.size=3±1"}), 50), 50) << "contacts go by it";
  scene = scene.withResponse(scene.findByName("emitter")->id, scene.findByName("contact")->id, {});
  EXPECT_LT(lastSharedFrame(scene, with(scene, {"emitter.size=3±1"}), 50), 50) << "and what rolls";
  scene = with(scene, {"deflector.rolling=false"});
  EXPECT_EQ(lastSharedFrame(scene, with(scene, {"emitter.size=3±1"}), 50), 50);
}

TEST(SceneRun, EveryParameterThatAffectsTheSimulationChangesItsKey) {
  // Each parameter is tried where it applies; those that need a burst or a shape get it.
  Scene base =
      with(busyScene(), {"emitter.shape=box", "emitter.rotation=1,2,3", "emitter.wander=1", "emitter.cone=50",
                         "emitter.inherit_emitter_velocity=50", "emitter.launch_noise_direction=20",
                         "emitter.emits_from=4", "emitter.launch_noise_speed=20", "emitter.mass_from_size=50",
                         "dust.emits_from=4", "crumbs.emits_from=4", "wind.gusts=30"});
  for (const Scene::ItemPtr& influence : base.itemsOf(ItemFamily::Influence))
    base = with(base, {influence->name + ".acts_from=4"});
  // Keys would hide a change of what they stand for.
  ParamValue unkeyed;
  unkeyed.base = Vec3d(0, -1, 0);
  base = base.withParam(base.findByName("deflector")->id, "position", unkeyed);
  for (const Scene::ItemPtr& item : base.items()) {
    for (std::size_t i = 0; i < item->values.size(); ++i) {
      const ParamSpec& spec = item->kind->params()[i];
      if (spec.affectedPart != Affects::Simulation || !item->applies(i)) continue;
      // The range itself is part of which frames there are, not of what a frame holds.
      if (spec.id == "first_frame" || spec.id == "last_frame") continue;
      // Start states have tests of their own.
      if (spec.type == ParamType::Data) continue;
      ParamValue changed = item->values[i];
      if (auto* number = std::get_if<double>(&changed.base)) *number = *number * 0.75 + 3.5;
      if (auto* vector = std::get_if<Vec3d>(&changed.base)) *vector += Vec3d(0.5, 0.25, 0.125);
      if (auto* text = std::get_if<std::string>(&changed.base))
        *text = spec.choices.front().id == *text ? spec.choices[1].id : spec.choices.front().id;
      if (auto* flag = std::get_if<bool>(&changed.base)) *flag = !*flag;
      if (auto* curve = std::get_if<Curve>(&changed.base)) *curve = Curve({{0, 1}, {1, 0}});
      if (auto* named = std::get_if<ItemRef>(&changed.base)) {
        named->name = named->name == "emitter" ? "crumbs" : "emitter";
        named->id = base.findByName(named->name)->id;
      }
      if (auto* strokes = std::get_if<StrokeList>(&changed.base)) strokes->front().front() += Vec3d(0.5);
      if (auto* rules = std::get_if<RuleList>(&changed.base))
        rules->push_back({{newCondition(RuleWhen::Age)}, false, 100, false, 1, {newAction(RuleThen::Die)}});
      if (auto* bursts = std::get_if<BurstList>(&changed.base)) bursts->push_back({2, 50});
      changed = nearestValid(spec, changed);
      ASSERT_NE(changed, item->values[i]) << spec.id;
      EXPECT_LT(lastSharedFrame(base, base.withParam(item->id, spec.id, changed), 10), 10)
          << item->name << "." << spec.id;
    }
  }
}

TEST(SceneRun, AFrameHasItsOwnNumberWhereverTheRangeBegins) {
  const Scene scene = test::oneBurst();
  const Scene later = with(
      scene, {"scene.first_frame=11", "scene.last_frame=110", "emitter.bursts=[{\"frame\":11,\"count\":1}]"});
  const auto cache = roomyCache();
  EXPECT_EQ(SceneRun(scene, cache).frame(5)->number, 5);
  const SceneFramePtr early = SceneRun(scene, cache).frame(5), late = SceneRun(later, cache).frame(15);
  EXPECT_EQ(late->number, 15);
  EXPECT_EQ(late->particles, early->particles) << "the same state, found again";
}

// Frames that were kept on a disk by an older program are known by the version in their keys.
TEST(SceneRun, TheSimulationsVersionGoesUpWithWhatItGives) {
  const std::string hash = SceneRun(busyScene(), roomyCache()).frame(20)->particles->digest().hex();
  EXPECT_EQ(hash + " of version " + std::to_string(kSimulationVersion),
            "7fd7c49845d64866de00d85cf942daf7 of version 4")
      << "the same scene gives other particles: raise kSimulationVersion, and write down the new hash";
}

TEST(SceneRun, LateEditsKeepEarlyFrames) {
  const Scene scene = busyScene();
  const Scene edited = with(
      scene,
      {R"(gravity.strength={"value":9.81,"keys":[{"frame":30,"value":9.81,"to_next":"linear"},{"frame":40,"value":20}]})"});
  EXPECT_EQ(lastSharedFrame(scene, edited, 50), 30);
  const Scene burst = with(scene, {R"(emitter.bursts=[{"frame":25,"count":10}])"});
  EXPECT_EQ(lastSharedFrame(scene, burst, 50), 24);
}

TEST(SceneRun, UndoFindsItsOldFrames) {
  const Scene scene = busyScene();
  const auto cache = roomyCache();
  const SceneFramePtr before = SceneRun(scene, cache).frame(20);
  (void)SceneRun(with(scene, {"gravity.strength=1"}), cache).frame(20);
  EXPECT_EQ(SceneRun(with(scene, {"gravity.strength=9.81"}), cache).cached(20), before);
}

TEST(SceneRun, InfluenceWithoutResponseIsNotInThePlan) {
  const Scene scene = busyScene();
  Scene none = scene;
  for (const Scene::ItemPtr& emitter : scene.itemsOf(ItemFamily::Emitter))
    none = none.withResponse(emitter->id, scene.findByName("gravity")->id, {std::nullopt});
  EXPECT_EQ(lastSharedFrame(none, with(none, {"gravity.strength=1"}), 20), 20);
}

TEST(SceneRun, FramesBeforeTheFirstAreRefused) {
  SceneRun run(busyScene(), roomyCache());
  EXPECT_THROW(run.frame(0), Error);
  EXPECT_EQ(run.frame(1)->report->stats.living, 0U);
}

TEST(SceneRun, StopsWhenCancelled) {
  SceneRun run(busyScene(), roomyCache());
  Progress progress;
  progress.cancel();
  try {
    run.frame(10, progress);
    FAIL() << "not cancelled";
  } catch (const Error& error) {
    EXPECT_EQ(error.kind(), ErrorKind::Cancelled);
  }
}

TEST(FrameCache, KeepsToItsBudgetAndDropsBetweenCheckpointsFirst) {
  const Scene scene = busyScene();
  const std::size_t frameBytes = test::simulate(scene, 60)->bytes();
  const auto cache = std::make_shared<FrameCache>(20 * frameBytes);
  SceneRun run(scene, cache);
  (void)run.frame(100);
  EXPECT_LE(cache->bytes(), cache->budget());
  for (const int checkpoint : {16, 32, 48, 64, 80, 96}) EXPECT_TRUE(run.isCached(checkpoint)) << checkpoint;
  EXPECT_TRUE(run.isCached(100));
  EXPECT_FALSE(run.isCached(41));
}

TEST(FrameCache, RefusesAFrameThatCannotFit) {
  const auto cache = std::make_shared<FrameCache>(1000);
  SceneRun run(busyScene(), cache);
  try {
    run.frame(20);
    FAIL() << "no error";
  } catch (const Error& error) {
    EXPECT_EQ(error.kind(), ErrorKind::Budget);
    EXPECT_FALSE(error.remedy().empty());
  }
}

TEST(ParticleStore, TakesFewBytesPerParticle) { EXPECT_LT(ParticleStore::bytesFor(1000000), 64U * 1000000U); }

}  // namespace
}  // namespace comet
