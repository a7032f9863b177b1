// What is shown after an edit is what a run from scratch gives, whatever was in the cache before.
#include "cache/scene_run.h"
#include "simulation/plan.h"
#include "support/scenes.h"

#include <random>

namespace comet {
namespace {

using test::busyScene;
using test::with;

constexpr int kLast = 14;

// Changes one parameter of one item at random: its constant, its keys, or its formula.
Scene edited(const Scene& scene, std::mt19937& random) {
  const auto below = [&random](std::size_t count) {
    return std::uniform_int_distribution<std::size_t>(0, count - 1)(random);
  };
  const auto fraction = [&random] { return std::uniform_real_distribution<double>(0, 1)(random); };
  const auto influences = scene.itemsOf(ItemFamily::Influence);
  const ItemId emitter = scene.itemsOf(ItemFamily::Emitter).front()->id;
  switch (below(6)) {
    case 0: {
      const Scene::ItemPtr influence = influences[below(influences.size())];
      return scene.withResponse(emitter, influence->id, {fraction() * 300 - 100});
    }
    case 1: {
      const Scene::ItemPtr influence = influences[below(influences.size())];
      return scene.withEnabled(influence->id, !influence->enabled);
    }
    default:
      break;
  }
  const Scene::ItemPtr item = scene.items()[below(scene.items().size())];
  const std::size_t index = below(item->kind->params().size());
  const ParamSpec& spec = item->kind->params()[index];
  ParamValue value = item->values[index];
  // The range and its warm-up say which frames there are.
  if (spec.id == "first_frame" || spec.id == "last_frame" || spec.id == "warm_up" || spec.id == "rate" ||
      spec.id == "frame_cache")
    return scene;
  if (auto* number = std::get_if<double>(&value.base)) {
    *number = spec.usualMin + fraction() * (spec.usualMax - spec.usualMin);
    if (spec.canBeKeyed && below(2) == 0) {
      value.keys = withKey({}, {1.0 + static_cast<double>(below(kLast)), value.base});
      value.keys = withKey(value.keys, {3.0 + static_cast<double>(below(kLast)), spec.usualMax});
    }
    if (spec.takesFormula() && below(4) == 0)
      value.formula = spec.isPerParticle ? "value*(1+0.2*rand(id))" : "value*(1+0.1*sin(time*9))";
  } else if (auto* vector = std::get_if<Vec3d>(&value.base)) {
    *vector += Vec3d(fraction(), fraction(), fraction()) - 0.5;
  } else if (auto* flag = std::get_if<bool>(&value.base)) {
    *flag = !*flag;
  } else if (spec.type == ParamType::Choice) {
    value.base = spec.choices[below(spec.choices.size())].id;
  }
  return scene.withParam(item->id, spec.id, nearestValid(spec, value));
}

TEST(RandomEdits, GiveTheFramesOfARunFromScratch) {
  std::mt19937 random(20);
  const auto shared = std::make_shared<FrameCache>(std::size_t{64} << 20);
  Scene scene = with(busyScene(), {"emitter.rate=400", "scene.substeps=1"});
  int changed = 0, kept = 0;
  for (int edit = 0; edit < 200; ++edit) {
    const Scene before = scene;
    scene = edited(scene, random);
    SceneRun run(scene, shared), old(before, shared);
    SceneRun fresh(scene, std::make_shared<FrameCache>(std::size_t{64} << 20));
    const int frame = 1 + edit * 5 % kLast;
    // Frames whose keys the edit left alone are those that were there before.
    for (int f = 1; f <= frame; ++f) {
      const bool isKept = run.key(f) == old.key(f);
      (isKept ? kept : changed) += 1;
      ASSERT_EQ(run.key(f), fresh.key(f));
    }
    const SceneFramePtr shown = run.frame(frame), scratch = fresh.frame(frame);
    ASSERT_EQ(shown->particles->digest(), scratch->particles->digest())
        << "edit " << edit << ", frame " << frame;
    for (std::size_t g = 0; g < shown->particles->groups.size(); ++g)
      ASSERT_EQ(shown->particles->groups[g].particles.displacement(),
                scratch->particles->groups[g].particles.displacement());
  }
  EXPECT_GT(changed, 200);
  EXPECT_GT(kept, 200);
}

}  // namespace
}  // namespace comet
