// The same scene gives the same particles, to the last bit, whatever the machine does meanwhile.
#include "base/parallel.h"
#include "base/vector_unit.h"
#include "support/scenes.h"

#include <rapidcheck.h>

namespace comet {
namespace {

using test::busyScene;
using test::simulate;

TEST(Determinism, ThreadsDoNotMatter) {
  const Digest all = simulate(busyScene(), 30)->particles->digest();
  for (const int threads : {1, 2, 3}) {
    const ThreadLimit limit(threads);
    EXPECT_EQ(simulate(busyScene(), 30)->particles->digest(), all) << threads;
  }
}

TEST(Determinism, VectorUnitDoesNotMatter) {
  const Digest best = simulate(busyScene(), 30)->particles->digest();
  useBaselineVectorUnit();
  const Digest baseline = simulate(busyScene(), 30)->particles->digest();
  useBestVectorUnit();
  EXPECT_EQ(best, baseline);
}

TEST(Determinism, ResumingFromAnyFrameGivesTheSame) {
  const Scene scene = busyScene();
  const auto cache = test::roomyCache();
  const Digest straight = simulate(scene, 40)->particles->digest();
  (void)SceneRun(scene, cache).frame(17);
  EXPECT_EQ(SceneRun(scene, cache).frame(40)->particles->digest(), straight);
}

TEST(Determinism, CacheUnderPressureGivesTheSame) {
  const Scene scene = busyScene();
  const SceneFramePtr straight = simulate(scene, 40);
  // Room for about three frames.
  const auto cache = std::make_shared<FrameCache>(3 * straight->bytes());
  SceneRun run(scene, cache);
  for (const int frame : {40, 3, 25, 40, 17, 40}) (void)run.frame(frame);
  EXPECT_EQ(run.frame(40)->particles->digest(), straight->particles->digest());
  EXPECT_LE(cache->bytes(), cache->budget());
}

// Any scene of random parameters: one thread on the baseline unit against all threads on the best.
TEST(Determinism, HoldsForAnyScene) {
  EXPECT_TRUE(rc::check([] {
    const Scene scene =
        test::with(busyScene(), {"emitter.rate=" + std::to_string(*rc::gen::inRange(0, 20000)),
                                 "turbulence.octaves=" + std::to_string(*rc::gen::inRange(1, 4)),
                                 "turbulence.scale=" + std::to_string(*rc::gen::inRange(1, 500) / 100.0),
                                 "drag.rate=" + std::to_string(*rc::gen::inRange(0, 20)),
                                 "scene.substeps=" + std::to_string(*rc::gen::inRange(1, 4)),
                                 "scene.seed=" + std::to_string(*rc::gen::inRange(0, 1000))});
    const int frame = *rc::gen::inRange(1, 8);
    const Digest all = simulate(scene, frame)->particles->digest();
    const ThreadLimit one(1);
    useBaselineVectorUnit();
    const Digest baseline = simulate(scene, frame)->particles->digest();
    useBestVectorUnit();
    RC_ASSERT(all == baseline);
  }));
}

}  // namespace
}  // namespace comet
