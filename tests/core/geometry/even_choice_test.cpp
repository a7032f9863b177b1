// Points that lie far apart, against the tightest arrangement that a plane allows and against random ones.
#include "geometry/even_choice.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <gtest/gtest.h>
#include <random>

namespace comet {
namespace {

std::vector<Vec3d> onSquare(std::size_t count) {
  std::mt19937 random(5);
  std::uniform_real_distribution<double> unit(0, 1);
  std::vector<Vec3d> points(count);
  for (Vec3d& point : points) point = {unit(random), 0, unit(random)};
  return points;
}

double nearestPair(const std::vector<Vec3d>& points, const std::vector<std::size_t>& chosen) {
  double nearest = 10;
  for (std::size_t i = 0; i < chosen.size(); ++i)
    for (std::size_t j = 0; j < i; ++j)
      nearest = std::min(nearest, glm::length(points[chosen[i]] - points[chosen[j]]));
  return nearest;
}

TEST(EvenChoice, LiesFarApart) {
  constexpr std::size_t kCount = 300;
  const auto points = onSquare(kCandidatesEach * kCount);
  const auto chosen = chooseEvenly(points, kCount);
  ASSERT_EQ(chosen.size(), kCount);
  EXPECT_TRUE(std::is_sorted(chosen.begin(), chosen.end()));
  // In the tightest arrangement, of triangles, all neighbours are so far apart.
  const double tightest = std::sqrt(2 / (std::sqrt(3.0) * kCount));
  EXPECT_GT(nearestPair(points, chosen), 0.6 * tightest);
  std::vector<std::size_t> first(kCount);
  for (std::size_t i = 0; i < kCount; ++i) first[i] = i;
  EXPECT_LT(nearestPair(points, first), 0.2 * tightest) << "random ones do not";
}

TEST(EvenChoice, LeavesNoGaps) {
  const auto points = onSquare(1200);
  const auto chosen = chooseEvenly(points, 300);
  const double tightest = std::sqrt(2 / (std::sqrt(3.0) * 300));
  for (const Vec3d& point : points) {
    double nearest = 10;
    for (const std::size_t i : chosen) nearest = std::min(nearest, glm::length(points[i] - point));
    EXPECT_LT(nearest, 1.3 * tightest);
  }
}

TEST(EvenChoice, TakesAllIfThereAreNoMore) {
  const auto points = onSquare(20);
  EXPECT_EQ(chooseEvenly(points, 20).size(), 20U);
  EXPECT_EQ(chooseEvenly(points, 50).size(), 20U);
  EXPECT_EQ(chooseEvenly(points, 1).size(), 1U);
  EXPECT_TRUE(chooseEvenly({}, 5).empty());
  EXPECT_EQ(chooseEvenly(std::vector<Vec3d>(100, Vec3d(1.0)), 10).size(), 10U) << "all on one point";
}

}  // namespace
}  // namespace comet
