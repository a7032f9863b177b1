#include "base/curve.h"

#include <rapidcheck.h>

namespace comet {
namespace {

TEST(Curve, PassesThroughItsPoints) {
  for (const Interpolation kind : {Interpolation::Linear, Interpolation::Smooth, Interpolation::Hold}) {
    const Curve curve({{0, 1, kind}, {0.25, -2, kind}, {0.5, 4, kind}, {1, 0, kind}});
    for (const CurvePoint& point : curve.points()) EXPECT_DOUBLE_EQ(curve.at(point.x), point.y);
  }
}

TEST(Curve, HoldsItsEndsOutside) {
  const Curve curve({{2, 5}, {3, 7}});
  EXPECT_EQ(curve.at(-10), 5);
  EXPECT_EQ(curve.at(10), 7);
}

TEST(Curve, LinearIsHalfwayInTheMiddleAndHoldIsNot) {
  EXPECT_DOUBLE_EQ(Curve({{0, 2}, {4, 6}}).at(2), 4);
  EXPECT_DOUBLE_EQ(Curve({{0, 2, Interpolation::Hold}, {4, 6}}).at(3.999), 2);
}

TEST(Curve, SmoothBetweenTwoPointsIsTheCubicEase) {
  const Curve curve({{0, 0, Interpolation::Smooth}, {1, 1, Interpolation::Smooth}});
  EXPECT_DOUBLE_EQ(curve.at(0.25), 3 * 0.0625 - 2 * 0.015625);
}

TEST(Curve, SmoothFollowsAStraightLineOfEvenPoints) {
  std::vector<CurvePoint> points;
  for (int i = 0; i <= 4; ++i) points.push_back({i * 1.0, 3.0 * i, Interpolation::Smooth});
  EXPECT_NEAR(Curve(points).at(2.3), 6.9, 1e-12);
}

TEST(Curve, SmoothNeverOvershootsItsPoints) {
  EXPECT_TRUE(rc::check([](const std::vector<std::pair<int, int>>& raw, unsigned position) {
    RC_PRE(raw.size() >= 2U);
    std::vector<CurvePoint> points;
    for (const auto& [x, y] : raw)
      points.push_back({x % 1000 / 10.0, y % 1000 / 10.0, Interpolation::Smooth});
    const Curve curve(points);
    const double from = curve.points().front().x, to = curve.points().back().x;
    const double x = from + (to - from) * (position % 1001) / 1000.0;
    double low = 1e9, high = -1e9;
    const auto& sorted = curve.points();
    for (std::size_t i = 0; i + 1 < sorted.size(); ++i)
      if (sorted[i].x <= x && x <= sorted[i + 1].x)
        for (const std::size_t k : {i, i + 1})
          low = std::min(low, sorted[k].y), high = std::max(high, sorted[k].y);
    RC_ASSERT(curve.at(x) >= low - 1e-9);
    RC_ASSERT(curve.at(x) <= high + 1e-9);
  }));
}

TEST(Curve, InterpolationNamesComeBack) {
  for (const Interpolation kind : {Interpolation::Linear, Interpolation::Smooth, Interpolation::Hold}) {
    Interpolation read = Interpolation::Linear;
    EXPECT_TRUE(fromString(toString(kind), read));
    EXPECT_EQ(read, kind);
  }
  Interpolation untouched = Interpolation::Hold;
  EXPECT_FALSE(fromString("wavy", untouched));
  EXPECT_EQ(untouched, Interpolation::Hold);
}

}  // namespace
}  // namespace comet
