#include "base/strokes.h"

#include <glm/geometric.hpp>

namespace comet {
namespace {

TEST(Strokes, RunThroughTheirPointsTheWayTheyWereDrawn) {
  const Stroke stroke{{0, 0, 0}, {1, 2, 0}, {3, 2, 1}, {4, 0, 1}};
  const std::vector<StrokeSpot> spots = smoothed(stroke, 10);
  ASSERT_EQ(spots.size(), 31U);
  for (std::size_t i = 0; i < stroke.size(); ++i) EXPECT_LT(glm::length(spots[10 * i].at - stroke[i]), 1e-12);
  for (std::size_t i = 1; i < spots.size(); ++i) {
    const Vec3d step = glm::normalize(spots[i].at - spots[i - 1].at);
    EXPECT_GT(glm::dot(step, spots[i].direction), 0.9) << i;
    EXPECT_NEAR(glm::length(spots[i].direction), 1, 1e-12);
  }
}

TEST(Strokes, AreStraightWhereTheirPointsAre) {
  for (const StrokeSpot& spot : smoothed({{0, 0, 0}, {1, 1, 1}, {2, 2, 2}}, 5))
    EXPECT_LT(glm::length(spot.at - Vec3d(spot.at.x)), 1e-12);
  EXPECT_TRUE(smoothed({{1, 1, 1}}, 5).empty());
}

TEST(Strokes, CloseWithoutAKink) {
  Stroke ring;
  for (int i = 0; i < 8; ++i) ring.emplace_back(std::cos(i * kPi / 4), std::sin(i * kPi / 4), 0);
  const std::vector<StrokeSpot> spots = smoothed(ring, 12, true);
  EXPECT_LT(glm::length(spots.front().at - spots.back().at), 1e-12);
  EXPECT_GT(glm::dot(spots.front().direction, spots.back().direction), 0.9999);
  for (const StrokeSpot& spot : spots) EXPECT_NEAR(glm::length(spot.at), 1, 0.02);
}

TEST(Strokes, SimplifyingKeepsWithinTheTolerance) {
  Stroke wave;
  for (int i = 0; i <= 400; ++i) wave.emplace_back(i * 0.01, std::sin(i * 0.03), 0);
  const Stroke few = simplified(wave, 0.02);
  EXPECT_LT(few.size(), 30U);
  EXPECT_EQ(few.front(), wave.front());
  EXPECT_EQ(few.back(), wave.back());
  for (const Vec3d& point : wave) {
    double nearest = 1e9;
    for (std::size_t i = 1; i < few.size(); ++i) {
      const Vec3d along = few[i] - few[i - 1];
      const double fraction =
          std::clamp(glm::dot(point - few[i - 1], along) / glm::dot(along, along), 0.0, 1.0);
      nearest = std::min(nearest, glm::length(point - few[i - 1] - along * fraction));
    }
    ASSERT_LE(nearest, 0.02 + 1e-12);
  }
  EXPECT_EQ(simplified({{0, 0, 0}, {1, 0, 0}, {2, 0, 0}}, 0.1).size(), 2U);
}

}  // namespace
}  // namespace comet
