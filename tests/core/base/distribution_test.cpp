#include "base/distribution.h"

#include "base/random.h"

#include <numeric>

namespace comet {
namespace {

TEST(Distribution, AnEvenCurveLeavesNumbersAsTheyAre) {
  const Distribution even(Curve::constant(3));
  for (const double x : {0.0, 0.1, 0.5, 0.77, 0.999}) EXPECT_NEAR(even.at(x), x, 1e-9);
}

TEST(Distribution, AStraightFallHasItsClosedForm) {
  // Density 2 (1 - x): a fraction 1 - (1 - x)² lies below x.
  const Distribution falling(Curve({{0, 1}, {1, 0}}));
  for (const double x : {0.05, 0.3, 0.6, 0.95}) EXPECT_NEAR(falling.at(1 - (1 - x) * (1 - x)), x, 1e-6);
}

TEST(Distribution, ACurveThatIsZeroCountsAsEven) {
  EXPECT_NEAR(Distribution(Curve::constant(0)).at(0.4), 0.4, 1e-9);
}

// Chi-square against the curve's own integral over each bin.
TEST(Distribution, ReproducesItsDensity) {
  const Curve curve({{0, 0.2, Interpolation::Linear},
                     {0.3, 1.5, Interpolation::Linear},
                     {0.31, 0, Interpolation::Hold},
                     {0.6, 0.4, Interpolation::Linear},
                     {1, 1, Interpolation::Linear}});
  const Distribution distribution(curve);
  constexpr int kBins = 20, kCount = 100000;
  std::vector<int> counts(kBins, 0);
  const RandomSource random(77);
  for (int i = 0; i < kCount; ++i) {
    const double x = distribution.at(random.unit(static_cast<std::uint64_t>(i), Draw::Speed));
    ASSERT_GE(x, 0);
    ASSERT_LE(x, 1);
    ++counts[std::min(kBins - 1, static_cast<int>(x * kBins))];
  }
  std::vector<double> areas(kBins, 0);
  constexpr int kFine = 400;
  for (int i = 0; i < kBins * kFine; ++i) areas[i / kFine] += curve.at((i + 0.5) / (kBins * kFine));
  const double all = std::accumulate(areas.begin(), areas.end(), 0.0);
  double chi = 0;
  for (int bin = 0; bin < kBins; ++bin) {
    const double expected = areas[bin] / all * kCount;
    // The curve is followed in 256 straight pieces, which blurs its jump at 0.31 by a piece.
    if (bin == 5 || bin == 6) continue;
    if (expected > 0) chi += (counts[bin] - expected) * (counts[bin] - expected) / expected;
  }
  // 99.9 % of chi-square with 17 degrees of freedom.
  EXPECT_LT(chi, 40.8);
}

}  // namespace
}  // namespace comet
