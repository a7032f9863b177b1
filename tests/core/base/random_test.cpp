#include "base/random.h"

namespace comet {
namespace {

// Of n uniform numbers in [0, 1) the mean is 1/2 with a standard error of 1/sqrt(12 n).
TEST(RandomSource, NumbersAreUniform) {
  const RandomSource random(42);
  constexpr int kCount = 100000, kBins = 20;
  double sum = 0;
  std::vector<int> bins(kBins, 0);
  for (int i = 0; i < kCount; ++i) {
    const double number = random.unit(static_cast<std::uint64_t>(i), Draw::Speed);
    ASSERT_GE(number, 0);
    ASSERT_LT(number, 1);
    sum += number;
    ++bins[static_cast<std::size_t>(number * kBins)];
  }
  EXPECT_NEAR(sum / kCount, 0.5, 5.0 / std::sqrt(12.0 * kCount));
  double chiSquared = 0;
  for (const int bin : bins)
    chiSquared += std::pow(bin - kCount / kBins, 2) / (kCount / static_cast<double>(kBins));
  EXPECT_LT(chiSquared, 43.8);  // 19 degrees of freedom, one in a thousand
}

TEST(RandomSource, PurposesAndNeighboursAreUncorrelated) {
  const RandomSource random(7);
  constexpr int kCount = 50000;
  double acrossPurposes = 0, acrossNeighbours = 0;
  for (int i = 0; i < kCount; ++i) {
    const auto id = static_cast<std::uint64_t>(i);
    const double here = random.signedUnit(id, Draw::Speed);
    acrossPurposes += here * random.signedUnit(id, Draw::Lifetime);
    acrossNeighbours += here * random.signedUnit(id + 1, Draw::Speed);
  }
  // The product of two uniform numbers in [-1, 1) has a standard deviation of 1/3.
  const double limit = 5 * (1.0 / 3.0) / std::sqrt(kCount);
  EXPECT_NEAR(acrossPurposes / kCount, 0, limit);
  EXPECT_NEAR(acrossNeighbours / kCount, 0, limit);
}

TEST(RandomSource, DependsOnKeyIdentityAndPurposeOnly) {
  EXPECT_EQ(RandomSource(1).unit(2, Draw::Size), RandomSource(1).unit(2, Draw::Size));
  EXPECT_NE(RandomSource(1).unit(2, Draw::Size), RandomSource(3).unit(2, Draw::Size));
  EXPECT_NE(RandomSource(1).unit(2, Draw::Size), RandomSource(1).unit(3, Draw::Size));
  EXPECT_NE(RandomSource(1).unit(2, Draw::Size), RandomSource(1).unit(2, Draw::Opacity));
}

}  // namespace
}  // namespace comet
