#include "base/curve.h"

#include <algorithm>
#include <cmath>
#include <rapidcheck.h>

namespace comet {
namespace {

constexpr Interpolation kAllWays[] = {Interpolation::Linear, Interpolation::Smooth, Interpolation::Hold,
                                      Interpolation::Bezier};

TEST(Curve, PassesThroughItsPoints) {
  for (const Interpolation kind : kAllWays) {
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
    // Rounding may lead beyond the last point, where no two points lie about the place.
    const double x = std::min(from + (to - from) * (position % 1001) / 1000.0, to);
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

TEST(Curve, FreeQuarterCircleIsRoundToThreeParts) {
  // The handles of the usual approximation of a quarter circle (Goldapp 1991); it is off by 2.7e-4 at most.
  constexpr double kReach = 0.5522847498;
  const Curve curve(
      {{0, 0, Interpolation::Bezier, {}, {0, kReach}}, {1, 1, Interpolation::Bezier, {-kReach, 0}, {}}});
  for (int i = 1; i < 100; ++i) {
    const double x = i / 100.0;
    EXPECT_NEAR(std::hypot(x - 1, curve.at(x)), 1, 3e-4) << x;
  }
}

TEST(Curve, FreeStaysWithinItsControlPolygonWhateverTheHandles) {
  EXPECT_TRUE(rc::check([](int beforeX, int beforeY, int afterX, int afterY) {
    const auto part = [](int number) { return number % 1000 / 100.0; };
    const CurveHandle after{part(afterX), part(afterY)}, before{part(beforeX), part(beforeY)};
    const Curve curve({{2, 1, Interpolation::Bezier, {}, after}, {4, 3, Interpolation::Linear, before, {}}});
    const auto [low, high] = std::minmax({1.0, 3.0, 1 + after.dy, 3 + before.dy});
    for (int i = 0; i <= 50; ++i) {
      const double y = curve.at(2 + 2 * i / 50.0);
      RC_ASSERT(y >= low - 1e-12);
      RC_ASSERT(y <= high + 1e-12);
    }
  }));
}

TEST(Curve, BecomesFreeWithoutChangingItsCourse) {
  for (const Interpolation offset : {Interpolation::Linear, Interpolation::Smooth}) {
    const std::vector<CurvePoint> points{{0, 1, offset}, {1, 3, offset}, {4, 4, offset}, {5, 0, offset}};
    for (std::size_t i = 0; i + 1 < points.size(); ++i) {
      std::vector<CurvePoint> free = points;
      freeFrom(free, i);
      EXPECT_EQ(free[i].toNext, Interpolation::Bezier);
      for (double x = 0; x <= 5; x += 0.05)
        EXPECT_NEAR(sampleCurve(free, x), sampleCurve(points, x), 1e-9) << x;
    }
  }
}

TEST(Curve, HandlesInLineStaySoUnlessOneIsMovedAlone) {
  std::vector<CurvePoint> points{{0, 0, Interpolation::Smooth}, {1, 1, Interpolation::Smooth}, {3, 2}};
  freeFrom(points, 0);
  freeFrom(points, 1);
  moveHandle(points, 1, CurveSide::After, {0.5, 2}, false);
  EXPECT_EQ(points[1].after, (CurveHandle{0.5, 2}));
  EXPECT_NEAR(points[1].before.dy / points[1].before.dx, 4, 1e-12);
  const CurveHandle kept = points[1].before;
  moveHandle(points, 1, CurveSide::After, {0.5, -2}, true);
  EXPECT_EQ(points[1].before, kept);
  moveHandle(points, 1, CurveSide::After, {0.5, 3}, false);  // no longer in line
  EXPECT_EQ(points[1].before, kept);
  moveHandle(points, 1, CurveSide::After, {-1, 0}, false);
  EXPECT_EQ(points[1].after.dx, 0) << "a handle never goes against its side";
  moveHandle(points, 1, CurveSide::Before, {-7, 0}, false);
  EXPECT_EQ(points[1].before.dx, -1) << "nor beyond its stretch";
}

TEST(Curve, InterpolationNamesComeBack) {
  for (const Interpolation kind : kAllWays) {
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
