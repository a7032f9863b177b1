#include "base/outline.h"

#include <glm/geometric.hpp>

namespace comet {
namespace {

double areaOf(const std::vector<Vec2d>& polygon) {
  double sum = 0;
  for (std::size_t i = 0; i < polygon.size(); ++i) {
    const Vec2d a = polygon[i], b = polygon[(i + 1) % polygon.size()];
    sum += a.x * b.y - a.y * b.x;
  }
  return std::abs(sum) / 2;
}

TEST(Outline, CornersMakeAPolygon) {
  const auto polygon = polygonOf({{{0.2, 0.2}}, {{0.8, 0.2}}, {{0.8, 0.6}}});
  ASSERT_EQ(polygon.size(), 3U);
  EXPECT_NEAR(areaOf(polygon), 0.5 * 0.6 * 0.4, 1e-12);
}

TEST(Outline, SmoothPointsLieOnTheCurveAndBulge) {
  const OutlinePoints square{{{0, 0}, true}, {{1, 0}, true}, {{1, 1}, true}, {{0, 1}, true}};
  const auto polygon = polygonOf(square);
  for (const OutlinePoint& point : square)
    EXPECT_NE(std::find(polygon.begin(), polygon.end(), point.at), polygon.end());
  // A Catmull-Rom side bulges by an eighth of the two tangents' difference: 0.125, which adds to the square's
  // area.
  double lowest = 0;
  for (const Vec2d& point : polygon) lowest = std::min(lowest, point.y);
  EXPECT_NEAR(lowest, -0.125, 1e-9);
  EXPECT_GT(areaOf(polygon), 1.3);
}

TEST(Outline, InsideIsInside) {
  const std::vector<Vec2d> hook{{0, 0}, {1, 0}, {1, 1}, {0.7, 1}, {0.7, 0.3}, {0, 0.3}};
  EXPECT_TRUE(isInside(hook, {0.1, 0.1}));
  EXPECT_TRUE(isInside(hook, {0.9, 0.9}));
  EXPECT_FALSE(isInside(hook, {0.3, 0.6}));
  EXPECT_FALSE(isInside(hook, {1.1, 0.5}));
}

}  // namespace
}  // namespace comet
