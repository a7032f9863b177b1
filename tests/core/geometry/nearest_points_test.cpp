#include "geometry/nearest_points.h"

#include <glm/geometric.hpp>
#include <random>

namespace comet {
namespace {

Mesh randomMesh(std::mt19937& random, int triangles) {
  std::uniform_real_distribution<float> place(-2, 2);
  Mesh mesh;
  for (int i = 0; i < triangles; ++i) {
    const Vec3 corner(place(random), place(random), place(random));
    const auto first = static_cast<std::uint32_t>(mesh.points.size());
    for (int k = 0; k < 3; ++k)
      mesh.points.push_back(corner + 0.3F * Vec3(place(random), place(random), place(random)));
    mesh.triangles.push_back({first, first + 1, first + 2});
  }
  mesh.normals.assign(mesh.points.size(), Vec3(0, 1, 0));
  return mesh;
}

TEST(NearestPoints, AreThoseThatTryingAllTrianglesFinds) {
  std::mt19937 random(3);
  std::uniform_real_distribution<double> place(-4, 4);
  for (int round = 0; round < 8; ++round) {
    const Mesh mesh = randomMesh(random, 1 + 60 * round);
    const NearestPoints nearest(mesh);
    for (int i = 0; i < 300; ++i) {
      const Vec3d from(place(random), place(random), place(random));
      double least = 1e300;
      for (const Mesh::Triangle& t : mesh.triangles)
        least = std::min(
            least, glm::length(nearestOnTriangle(from, Vec3d(mesh.points[t[0]]), Vec3d(mesh.points[t[1]]),
                                                 Vec3d(mesh.points[t[2]])) -
                               from));
      const auto found = nearest.of(from);
      ASSERT_TRUE(found);
      ASSERT_EQ(glm::length(found->at - from), least);
    }
  }
}

TEST(NearestPoints, OfATriangleAreItsFaceSidesAndCorners) {
  const Vec3d a(0, 0, 0), b(4, 0, 0), c(0, 4, 0);
  EXPECT_EQ(nearestOnTriangle({1, 1, 5}, a, b, c), Vec3d(1, 1, 0));
  EXPECT_EQ(nearestOnTriangle({2, -3, 1}, a, b, c), Vec3d(2, 0, 0));
  EXPECT_EQ(nearestOnTriangle({-1, -1, 0}, a, b, c), a);
  EXPECT_EQ(nearestOnTriangle({9, -1, 0}, a, b, c), b);
  EXPECT_EQ(nearestOnTriangle({4, 4, 0}, a, b, c), Vec3d(2, 2, 0));
}

TEST(NearestPoints, AMeshWithoutTrianglesHasNone) {
  const Mesh empty;
  EXPECT_FALSE(NearestPoints(empty).of({0, 0, 0}));
}

}  // namespace
}  // namespace comet
