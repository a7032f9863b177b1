// Who goes where: against every way to do it for few, and against sorting for many on a line, where it is
// known to be the shortest.
#include "geometry/assignment.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <gtest/gtest.h>
#include <numeric>
#include <random>
#include <rapidcheck.h>
#include <set>

namespace comet {
namespace {

std::vector<Vec3d> cloud(std::size_t count, std::uint32_t seed, const Vec3d& size,
                         const Vec3d& at = Vec3d(0.0)) {
  std::mt19937 random(seed);
  std::uniform_real_distribution<double> unit(0, 1);
  std::vector<Vec3d> points;
  for (std::size_t i = 0; i < count; ++i) {
    const double x = unit(random), y = unit(random), z = unit(random);
    points.push_back(at + size * Vec3d(x, y, z));
  }
  return points;
}

// Each to one, as many as there can be, no two to one, and as long in all as it says.
void expectMatching(const Assignment& assignment, const std::vector<Vec3d>& points,
                    const std::vector<Vec3d>& places) {
  ASSERT_EQ(assignment.places.size(), points.size());
  std::set<std::size_t> taken;
  double total = 0;
  for (std::size_t i = 0; i < points.size(); ++i) {
    const std::size_t place = assignment.places[i];
    if (place == Assignment::kNone) continue;
    ASSERT_LT(place, places.size());
    EXPECT_TRUE(taken.insert(place).second) << "two at " << place;
    total += glm::length(points[i] - places[place]);
  }
  EXPECT_EQ(taken.size(), std::min(points.size(), places.size()));
  EXPECT_NEAR(assignment.total, total, 1e-9 * (1 + total));
}

// By trying every order of the places.
double shortestOf(const std::vector<Vec3d>& points, std::vector<Vec3d> places) {
  std::vector<std::size_t> order(places.size());
  std::iota(order.begin(), order.end(), std::size_t{0});
  double least = std::numeric_limits<double>::infinity();
  do {
    double total = 0;
    for (std::size_t i = 0; i < points.size(); ++i) total += glm::length(points[i] - places[order[i]]);
    least = std::min(least, total);
  } while (std::next_permutation(order.begin(), order.end()));
  return least;
}

TEST(Assignment, IsTheShortestForFew) {
  for (std::uint32_t seed = 1; seed <= 20; ++seed) {
    const auto points = cloud(1 + seed % 6, seed, Vec3d(1.0)), places = cloud(6, seed + 100, Vec3d(1.0));
    const Assignment assignment = assignPlaces(points, places);
    expectMatching(assignment, points, places);
    EXPECT_NEAR(assignment.total, shortestOf(points, places), 1e-12);
    // The other way round, some of the points go nowhere.
    const Assignment crowded = assignPlaces(places, points);
    expectMatching(crowded, places, points);
    EXPECT_NEAR(crowded.total, assignment.total, 1e-12);
  }
}

// On a line nothing is shorter than the first to the first and so on.
double shortestOnLine(std::vector<Vec3d> points, std::vector<Vec3d> places) {
  const auto isLess = [](const Vec3d& a, const Vec3d& b) { return a.x < b.x; };
  std::sort(points.begin(), points.end(), isLess);
  std::sort(places.begin(), places.end(), isLess);
  double total = 0;
  for (std::size_t i = 0; i < points.size(); ++i) total += std::abs(points[i].x - places[i].x);
  return total;
}

TEST(Assignment, IsTheShortestForTwoHundred) {
  const auto points = cloud(200, 1, {1, 0, 0}), places = cloud(200, 2, {1, 0, 0});
  EXPECT_NEAR(assignPlaces(points, places).total, shortestOnLine(points, places), 1e-9);
}

TEST(Assignment, IsNearlyTheShortestForMany) {
  struct Case {
    std::vector<Vec3d> points, places;
  };
  for (const Case& many : {Case{cloud(3000, 1, {1, 0, 0}), cloud(3000, 2, {1, 0, 0})},
                           Case{cloud(3000, 3, {1, 0, 0}), cloud(3000, 4, {1, 0, 0}, {30, 0, 0})},
                           Case{cloud(3000, 5, {1e-3, 0, 0}), cloud(3000, 6, {5, 0, 0})}}) {
    const Assignment assignment = assignPlaces(many.points, many.places);
    expectMatching(assignment, many.points, many.places);
    const double shortest = shortestOnLine(many.points, many.places);
    EXPECT_LE(assignment.total, (1 + kAssignmentSlack) * shortest);
    EXPECT_LE(assignment.least, shortest * (1 + 1e-9));
    EXPECT_GE(assignment.least, 0.75 * shortest) << "and it knows about how short";
  }
}

TEST(Assignment, TakesWhatLiesOnOnePoint) {
  const std::vector<Vec3d> here(1000, Vec3d(1, 2, 3));
  const Assignment same = assignPlaces(here, here);
  expectMatching(same, here, here);
  EXPECT_EQ(same.total, 0);
  const auto places = cloud(1000, 7, {2, 2, 2});
  expectMatching(assignPlaces(here, places), here, places);
  expectMatching(assignPlaces({}, places), {}, places);
  expectMatching(assignPlaces(here, {}), here, {});
}

TEST(Assignment, HasTheSamePairsForAnySizes) {
  EXPECT_TRUE(rc::check("a matching, never shorter than it says is possible", [] {
    const auto points =
        cloud(*rc::gen::inRange<std::size_t>(0, 500), *rc::gen::arbitrary<std::uint32_t>(), {1, 1, 0});
    const auto places =
        cloud(*rc::gen::inRange<std::size_t>(0, 500), *rc::gen::arbitrary<std::uint32_t>(), {1, 1, 1});
    const Assignment assignment = assignPlaces(points, places);
    expectMatching(assignment, points, places);
    RC_ASSERT(assignment.least <= assignment.total + 1e-9);
    RC_ASSERT(assignment.places == assignPlaces(points, places).places);
  }));
}

TEST(Assignment, CanBeCancelled) {
  Progress progress;
  progress.cancel();
  EXPECT_THROW(assignPlaces(cloud(2000, 1, Vec3d(1.0)), cloud(2000, 2, Vec3d(1.0)), progress), Error);
}

}  // namespace
}  // namespace comet
