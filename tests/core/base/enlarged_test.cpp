#include "base/enlarged.h"

#include <cmath>
#include <gtest/gtest.h>

namespace comet {
namespace {

constexpr std::uint32_t kOpaque = 0xFF000000U;

int levelOf(std::uint32_t pixel) { return static_cast<int>(pixel & 0xFFU); }

std::uint32_t grey(double level) {
  const auto value = static_cast<std::uint32_t>(std::lround(level));
  return kOpaque | value << 16 | value << 8 | value;
}

TEST(Enlarged, KeepsWhatIsTheSameAllOver) {
  for (const std::uint32_t pixel : {0xFFFFFFFFU, 0xFF000000U, 0xFF1E8001U})
    for (const std::uint32_t found : enlarged(std::vector<std::uint32_t>(7 * 5, pixel), 7, 5, 24, 19))
      ASSERT_EQ(found, pixel);
}

TEST(Enlarged, ContinuesWhatRisesEvenly) {
  constexpr int kWidth = 12, kHeight = 9, kTimes = 4;
  const auto value = [](double x, double y) { return 10 + 10 * x + 8 * y; };
  std::vector<std::uint32_t> slope;
  for (int y = 0; y < kHeight; ++y)
    for (int x = 0; x < kWidth; ++x) slope.push_back(grey(value(x, y)));
  const auto large = enlarged(slope, kWidth, kHeight, kTimes * kWidth, kTimes * kHeight);
  // Two pixels from the edge on, where all that a pixel is made of lies within.
  for (int y = 2 * kTimes; y < (kHeight - 2) * kTimes; ++y)
    for (int x = 2 * kTimes; x < (kWidth - 2) * kTimes; ++x)
      ASSERT_NEAR(levelOf(large[static_cast<std::size_t>(y * kTimes * kWidth + x)]),
                  value((x + 0.5) / kTimes - 0.5, (y + 0.5) / kTimes - 0.5), 0.6);
}

TEST(Enlarged, ShowsNoBlocksAndStaysWithinLevels) {
  constexpr int kWidth = 8, kHeight = 4, kTimes = 8;
  std::vector<std::uint32_t> edge;
  for (int i = 0; i < kWidth * kHeight; ++i)
    edge.push_back(i % kWidth < kWidth / 2 ? 0xFF000000U : 0xFFFFFFFFU);
  const auto large = enlarged(edge, kWidth, kHeight, kTimes * kWidth, kTimes * kHeight);
  const auto at = [&](int x) { return levelOf(large[static_cast<std::size_t>(16 * kTimes * kWidth + x)]); };
  // How much the slope changes from pixel to pixel: straight lines between the middles of pixels would bend
  // by the whole slope, an eighth, at once; this filter bends by its second derivative, at most 4, of an
  // eighth squared.
  int sharpest = 0;
  for (int x = 1; x + 1 < kTimes * kWidth; ++x)
    sharpest = std::max(sharpest, std::abs(at(x + 1) - 2 * at(x) + at(x - 1)));
  EXPECT_LT(sharpest, 255 * 4.0 / 64 + 2);
  EXPECT_GT(sharpest, 255 * 1.0 / 64);
  // The filter goes below black and above white beside an edge; a byte that wrapped around would be a spot.
  for (int x = 1; x < kTimes * kWidth; ++x) EXPECT_GE(at(x), at(x - 1) - 1) << x;
  for (const std::uint32_t pixel : large) ASSERT_EQ(pixel & kOpaque, kOpaque);
}

}  // namespace
}  // namespace comet
