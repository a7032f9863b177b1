// What is shown after an edit is what a run from scratch gives, whatever was in the cache before.
#include "base/parallel.h"
#include "cache/scene_run.h"
#include "simulation/plan.h"
#include "support/edits.h"
#include "support/scenes.h"

#include <random>

namespace comet {
namespace {

using test::busyScene;
using test::with;

constexpr int kLast = 14;

TEST(RandomEdits, GiveTheFramesOfARunFromScratch) {
  // Many small runs, which threads would only wait for each other in.
  const ThreadLimit limit(1);
  std::mt19937 random(20);
  const auto shared = std::make_shared<FrameCache>(std::size_t{64} << 20);
  Scene scene = with(busyScene(), {"emitter.rate=400", "scene.substeps=1"});
  int changed = 0, kept = 0;
  for (int edit = 0; edit < 200; ++edit) {
    const Scene before = scene;
    scene = test::edited(scene, kLast, random);
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
