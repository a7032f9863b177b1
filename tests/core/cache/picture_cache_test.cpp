#include "cache/picture_cache.h"

namespace comet {
namespace {

constexpr int kEdge = 10;

ScreenPicturePtr pictureOf(std::uint32_t pixel) {
  return std::make_shared<const ScreenPicture>(
      ScreenPicture{kEdge, kEdge, std::vector<std::uint32_t>(kEdge * kEdge, pixel)});
}

Digest pictureKey(int number) { return (Hasher() << number).digest(); }

const std::size_t kPictureBytes = pictureOf(0)->bytes();

class PictureCacheOfThree : public ::testing::Test {
 protected:
  void SetUp() override {
    for (const int number : {1, 2, 3})
      cache_.insert(pictureKey(number), pictureOf(0), PictureCache::Others::Stay);
  }
  bool has(int number) const { return cache_.contains(pictureKey(number)); }

  PictureCache cache_{3 * kPictureBytes};
};

TEST_F(PictureCacheOfThree, FindsWhatWasInsertedUnderItsKeyOnly) {
  const ScreenPicturePtr picture = pictureOf(7);
  cache_.insert(pictureKey(4), picture, PictureCache::Others::Go);
  EXPECT_EQ(cache_.find(pictureKey(4)), picture);
  EXPECT_EQ(cache_.find(pictureKey(5)), nullptr);
  EXPECT_EQ(cache_.bytes(), 3 * kPictureBytes);
}

TEST_F(PictureCacheOfThree, AFullOneKeepsOthersOrLetsTheLongestUnusedGo) {
  cache_.insert(pictureKey(4), pictureOf(0), PictureCache::Others::Stay);
  EXPECT_FALSE(has(4));
  (void)cache_.find(pictureKey(1));
  cache_.insert(pictureKey(4), pictureOf(0), PictureCache::Others::Go);
  EXPECT_TRUE(has(1));
  EXPECT_FALSE(has(2));
  EXPECT_TRUE(has(3) && has(4));
}

TEST_F(PictureCacheOfThree, WhatIsWantedCountsAsUsed) {
  EXPECT_EQ(cache_.use({pictureKey(1), pictureKey(2), pictureKey(9)}), 2 * kPictureBytes);
  cache_.insert(pictureKey(4), pictureOf(0), PictureCache::Others::Go);
  EXPECT_TRUE(has(1) && has(2) && has(4));
  EXPECT_FALSE(has(3));
}

TEST_F(PictureCacheOfThree, ASmallerBudgetTakesEffectAtOnce) {
  cache_.setBudget(kPictureBytes);
  EXPECT_EQ(cache_.bytes(), kPictureBytes);
  EXPECT_TRUE(has(3));
  cache_.setBudget(kPictureBytes - 1);
  EXPECT_EQ(cache_.bytes(), 0U);
  cache_.insert(pictureKey(4), pictureOf(0), PictureCache::Others::Go);
  EXPECT_FALSE(has(4)) << "larger than all that there may be";
}

TEST_F(PictureCacheOfThree, InsertingTwiceCountsOnce) {
  cache_.clear();
  for (int i = 0; i < 2; ++i) cache_.insert(pictureKey(1), pictureOf(0), PictureCache::Others::Go);
  EXPECT_EQ(cache_.bytes(), kPictureBytes);
}

}  // namespace
}  // namespace comet
