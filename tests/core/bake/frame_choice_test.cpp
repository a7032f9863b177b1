#include "bake/frame_choice.h"

#include <cmath>
#include <gmock/gmock.h>
#include <numeric>
#include <rapidcheck/gtest.h>

namespace comet {
namespace {

using testing::ElementsAre;

TEST(FrameChoice, EnergyIsLightOrCoverWhicheverIsMore) {
  Picture picture(2, 1);
  picture.at(0, 0) = Vec4(0.5F, 0.25F, 0, 0);  // light alone
  picture.at(1, 0) = Vec4(0, 0, 0, 0.75F);     // black smoke
  EXPECT_FLOAT_EQ(static_cast<float>(energyOf(picture)), 1.25F);
}

TEST(FrameChoice, DullEndsAreTrimmedAndDullMiddlesStay) {
  const std::vector<double> energies{0, 1, 10, 100, 2, 80, 6, 1, 0};
  const auto trimmed = [&](double fraction) {
    const FrameRange part = livelyPart(energies, fraction);
    return std::pair(part.first, part.last);
  };
  EXPECT_EQ(trimmed(0.05), std::pair(2, 6));
  EXPECT_EQ(trimmed(0.5), std::pair(3, 5));
  EXPECT_EQ(trimmed(0), std::pair(1, 7)) << "nothing at all is dull in any case";
}

TEST(FrameChoice, NothingToSeeTrimsNothing) {
  const FrameRange part = livelyPart({0, 0, 0}, 0.1);
  EXPECT_EQ(part.first, 0);
  EXPECT_EQ(part.last, 2);
}

TEST(FrameChoice, EvenMotionPicksManyFramesWhereThereIsMuch) {
  // Quick, then slow: the picture changes by 4 a frame, then by 1.
  std::vector<double> changes(4, 4.0);
  changes.insert(changes.end(), 16, 1.0);
  EXPECT_THAT(evenInMotion(changes, 5, false), ElementsAre(0, 2, 4, 12, 20));
}

TEST(FrameChoice, EvenMotionOfALoopCountsTheSeam) {
  EXPECT_THAT(evenInMotion({1, 1, 1, 5}, 2, true), ElementsAre(0, 3));
  EXPECT_THAT(evenInMotion({1, 1, 1, 1}, 2, true), ElementsAre(0, 2));
}

TEST(FrameChoice, TheBestLoopIsWhereAMotionComesAgain) {
  // A swing of 24 frames that dies away, and a knock at 30 to 33 that no loop should hold in its fade.
  const auto shows = [](int frame) {
    return std::sin(2 * 3.14159265358979 * frame / 24) * std::exp(-frame / 200.0) +
           (frame >= 30 && frame <= 33 ? 5 : 0);
  };
  const auto unlike = [&](int a, int b) { return std::abs(shows(a) - shows(b)); };
  const LoopStretch best = bestLoop(
      100, 20, 40, [](int length) { return length / 4; }, unlike);
  EXPECT_EQ(best.range.count(), 24);
  EXPECT_GE(best.range.first, 6) << "what fades in lies within the range";
  EXPECT_LE(best.range.last, 99);
  double sum = 0;
  for (int i = best.range.first - 6; i < best.range.first; ++i) sum += unlike(i, i + 24);
  EXPECT_NEAR(best.unlike, sum / 6, 1e-12);
  EXPECT_LT(best.unlike, 0.1);
}

TEST(FrameChoice, OfLoopsThatAreAlikeTheLongestIsTaken) {
  const LoopStretch best = bestLoop(
      50, 10, 30, [](int) { return 4; }, [](int, int) { return 1.0; });
  EXPECT_EQ(best.range.first, 4);
  EXPECT_EQ(best.range.count(), 30);
}

RC_GTEST_PROP(FrameChoiceProperty, EvenMotionIsInOrderAndCloseToItsGoal, ()) {
  const auto raw = *rc::gen::nonEmpty(rc::gen::container<std::vector<int>>(rc::gen::inRange(0, 100)));
  const std::vector<double> changes(raw.begin(), raw.end());
  const int count = *rc::gen::inRange(1, 20);
  const std::vector<int> picked = evenInMotion(changes, count, false);
  const int frames = static_cast<int>(changes.size()) + 1;
  RC_ASSERT(static_cast<int>(picked.size()) == std::min(count, frames));
  RC_ASSERT(std::is_sorted(picked.begin(), picked.end()));
  RC_ASSERT(std::adjacent_find(picked.begin(), picked.end()) == picked.end());
  RC_ASSERT(picked.front() == 0);
  if (picked.size() > 1) RC_ASSERT(picked.back() == frames - 1);
}

TEST(FrameChoice, EvenlySpreadHasBothEndsOrLeadsRound) {
  EXPECT_THAT(evenlySpread({1, 9}, 5, false), ElementsAre(1, 3, 5, 7, 9));
  EXPECT_THAT(evenlySpread({1, 8}, 4, true), ElementsAre(1, 3, 5, 7));
  EXPECT_THAT(evenlySpread({4, 6}, 8, false), ElementsAre(4, 5, 6));
}

}  // namespace
}  // namespace comet
