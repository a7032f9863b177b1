// Round tubes along lines, against the solids that they are.
#include "geometry/tube_mesh.h"

#include "support/meshes.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <rapidcheck.h>

namespace comet {
namespace {

TubeMesh tubeAlong(const std::vector<TubePoint>& line, int sides) {
  TubeMesh tube;
  addTube(line, sides, tube);
  return tube;
}

TEST(TubeMesh, HasTheVolumeOfACapsule) {
  const TubeMesh tube = tubeAlong({{{1, 2, 3}, 0.5}, {{1, 2, 4}, 0.5}, {{1, 2, 7}, 0.5}}, 48);
  // Ends in two steps, from 0 to 45 to 90 degrees: frusta over a ring of radius r / sqrt(2).
  const double r = 0.5, h = r / std::sqrt(2.0);
  const double disc = 24 * std::sin(2 * kPi / 48);  // of radius 1 with 48 sides
  const double ends = 2 * disc * (h * (r * r + r * h + h * h) / 3 + (r - h) * h * h / 3);
  EXPECT_NEAR(volumeOf(tube.mesh), disc * r * r * 4 + ends, 1e-5);
  EXPECT_TRUE(reportOn(tube.mesh).isClosed());
}

TEST(TubeMesh, HasTheVolumeOfARingAndDoesNotTwist) {
  // Three quarters of a torus of radius 2.
  std::vector<TubePoint> line;
  for (int i = 0; i <= 90; ++i) {
    const double angle = 1.5 * kPi * i / 90;
    line.push_back({{2 * std::cos(angle), 2 * std::sin(angle), 0}, 0.3});
  }
  constexpr int kSides = 32;
  const TubeMesh tube = tubeAlong(line, kSides);
  const double torus = kPi * 0.09 * 1.5 * kPi * 2;
  EXPECT_NEAR(volumeOf(tube.mesh), torus + 4 * kPi / 3 * 0.027, 0.03 * torus);
  // In a plane, the first point of each cross-section stays as far from it.
  const auto ring = [&](int i) { return tube.mesh.points[static_cast<std::size_t>(1 + i) * kSides + 1]; };
  for (int i = 1; i <= 90; ++i) EXPECT_NEAR(ring(i).z, ring(0).z, 1e-5) << i;
}

TEST(TubeMesh, GivesEachPointTheColourOfItsPlace) {
  const TubeMesh tube = tubeAlong({{{0, 0, 0}, 0.1, {1, 0, 0}}, {{0, 0, 1}, 0.2, {0, 0, 1}}}, 6);
  ASSERT_EQ(tube.colors.size(), tube.mesh.points.size());
  for (std::size_t i = 0; i < tube.colors.size(); ++i)
    EXPECT_EQ(tube.colors[i], tube.mesh.points[i].z < 0.5F ? Vec3(1, 0, 0) : Vec3(0, 0, 1));
}

TEST(TubeMesh, IsNothingWithoutAWay) {
  EXPECT_TRUE(tubeAlong({}, 8).mesh.points.empty());
  EXPECT_TRUE(tubeAlong({{{1, 1, 1}, 1}}, 8).mesh.points.empty());
  EXPECT_TRUE(tubeAlong({{{1, 1, 1}, 1}, {{1, 1, 1}, 2}}, 8).mesh.points.empty());
}

// However a line runs, even back into itself: the tube is closed, everywhere its radius away from the line,
// and its numbers are numbers.
TEST(TubeMesh, IsClosedAroundAnyLine) {
  EXPECT_TRUE(rc::check([] {
    std::vector<TubePoint> line;
    const auto coordinate = [] { return *rc::gen::inRange(-4, 5) * 0.5; };
    const int count = *rc::gen::inRange(2, 12);
    for (int i = 0; i < count; ++i)
      line.push_back({{coordinate(), coordinate(), coordinate()}, *rc::gen::inRange(0, 5) * 0.1});
    const TubeMesh tube = tubeAlong(line, *rc::gen::inRange(3, 12));
    if (tube.mesh.points.empty()) return;
    RC_ASSERT(reportOn(tube.mesh).isClosed());
    for (std::size_t p = 0; p < tube.mesh.points.size(); ++p) {
      double nearest = 100;
      for (const TubePoint& point : line) {
        const double away = glm::length(Vec3d(tube.mesh.points[p]) - point.at);
        nearest = std::min(nearest, std::abs(away - point.radius));
      }
      RC_ASSERT(nearest < 1e-4);
      RC_ASSERT(std::abs(glm::length(tube.mesh.normals[p]) - 1) < 1e-4F);
    }
  }));
}

}  // namespace
}  // namespace comet
