#include "cache/frame_cache.h"

#include "base/error.h"

namespace comet {
namespace {

constexpr std::size_t kParticles = 1000;

SceneFramePtr frameOf(int number) {
  ParticleState state;
  state.groups.push_back({1, {}, ParticleStore(kParticles)});
  return std::make_shared<const SceneFrame>(
      SceneFrame{number, std::make_shared<const ParticleState>(std::move(state))});
}

Digest keyOf(int number) { return (Hasher() << number).digest(); }

const std::size_t kFrameBytes = frameOf(0)->bytes();

TEST(FrameCache, FindsWhatWasInsertedUnderItsKeyOnly) {
  FrameCache cache(10 * kFrameBytes);
  const SceneFramePtr frame = frameOf(1);
  cache.insert(keyOf(1), frame);
  EXPECT_EQ(cache.find(keyOf(1), 1), frame);
  EXPECT_EQ(cache.find(keyOf(2), 2), nullptr);
  EXPECT_TRUE(cache.contains(keyOf(1)));
  EXPECT_EQ(cache.bytes(), kFrameBytes);
}

TEST(FrameCache, InsertingTwiceCountsOnce) {
  FrameCache cache(10 * kFrameBytes);
  cache.insert(keyOf(1), frameOf(1));
  cache.insert(keyOf(1), frameOf(1));
  EXPECT_EQ(cache.bytes(), kFrameBytes);
}

TEST(FrameCache, DropsTheLongestUnused) {
  FrameCache cache(3 * kFrameBytes);
  for (const int frame : {1, 2, 3}) cache.insert(keyOf(frame), frameOf(frame));
  (void)cache.find(keyOf(1), 1);
  cache.insert(keyOf(4), frameOf(4));
  EXPECT_TRUE(cache.contains(keyOf(1)));
  EXPECT_FALSE(cache.contains(keyOf(2)));
  EXPECT_TRUE(cache.contains(keyOf(3)));
}

TEST(FrameCache, CheckpointsOutliveYoungerFrames) {
  FrameCache cache(2 * kFrameBytes);
  cache.insert(keyOf(16), frameOf(16));
  for (int frame = 17; frame < 30; ++frame) cache.insert(keyOf(frame), frameOf(frame));
  EXPECT_TRUE(cache.contains(keyOf(16)));
  EXPECT_TRUE(cache.contains(keyOf(29)));
}

TEST(FrameCache, ASmallerBudgetTakesEffectAtOnce) {
  FrameCache cache(10 * kFrameBytes);
  for (int frame = 1; frame <= 10; ++frame) cache.insert(keyOf(frame), frameOf(frame));
  cache.setBudget(4 * kFrameBytes);
  EXPECT_LE(cache.bytes(), 4 * kFrameBytes);
  EXPECT_TRUE(cache.contains(keyOf(10)));
  EXPECT_FALSE(cache.contains(keyOf(1)));
}

TEST(FrameCache, AFrameInUseOutlivesItsPlaceInTheCache) {
  FrameCache cache(kFrameBytes);
  cache.insert(keyOf(1), frameOf(1));
  const SceneFramePtr held = cache.find(keyOf(1), 1);
  cache.insert(keyOf(2), frameOf(2));
  EXPECT_FALSE(cache.contains(keyOf(1)));
  EXPECT_EQ(held->number, 1);
}

}  // namespace
}  // namespace comet
