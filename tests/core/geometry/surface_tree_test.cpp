#include "geometry/surface_tree.h"

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

TEST(SurfaceTree, AreThoseThatTryingAllTrianglesFinds) {
  std::mt19937 random(3);
  std::uniform_real_distribution<double> place(-4, 4);
  for (int round = 0; round < 8; ++round) {
    const Mesh mesh = randomMesh(random, 1 + 60 * round);
    const SurfaceTree nearest(mesh);
    for (int i = 0; i < 300; ++i) {
      const Vec3d from(place(random), place(random), place(random));
      double min = 1e300;
      for (const Mesh::Triangle& t : mesh.triangles)
        min =
            std::min(min, glm::length(nearestOnTriangle(from, Vec3d(mesh.points[t[0]]),
                                                        Vec3d(mesh.points[t[1]]), Vec3d(mesh.points[t[2]])) -
                                      from));
      const auto found = nearest.nearest(from);
      ASSERT_TRUE(found);
      ASSERT_EQ(glm::length(found->at - from), min);
    }
  }
}

TEST(SurfaceTree, OfATriangleAreItsFaceSidesAndCorners) {
  const Vec3d a(0, 0, 0), b(4, 0, 0), c(0, 4, 0);
  EXPECT_EQ(nearestOnTriangle({1, 1, 5}, a, b, c), Vec3d(1, 1, 0));
  EXPECT_EQ(nearestOnTriangle({2, -3, 1}, a, b, c), Vec3d(2, 0, 0));
  EXPECT_EQ(nearestOnTriangle({-1, -1, 0}, a, b, c), a);
  EXPECT_EQ(nearestOnTriangle({9, -1, 0}, a, b, c), b);
  EXPECT_EQ(nearestOnTriangle({4, 4, 0}, a, b, c), Vec3d(2, 2, 0));
}

TEST(SurfaceTree, FindsNothingBeyondTheDistanceThatIsAskedFor) {
  std::mt19937 random(4);
  std::uniform_real_distribution<double> place(-4, 4);
  const Mesh mesh = randomMesh(random, 40);
  const SurfaceTree tree(mesh);
  for (int i = 0; i < 300; ++i) {
    const Vec3d from(place(random), place(random), place(random));
    const double distance = glm::length(tree.nearest(from)->at - from);
    EXPECT_TRUE(tree.nearest(from, distance * 1.001));
    EXPECT_FALSE(tree.nearest(from, distance * 0.999));
  }
}

TEST(SurfaceTree, AWayMeetsTheFirstTriangleOnIt) {
  std::mt19937 random(5);
  std::uniform_real_distribution<double> place(-4, 4);
  int met = 0;
  const Mesh mesh = randomMesh(random, 300);
  const SurfaceTree tree(mesh);
  for (int i = 0; i < 500; ++i) {
    const Vec3d from(place(random), place(random), place(random)),
        to(place(random), place(random), place(random));
    // By trying all triangles (Möller and Trumbore, 1997).
    double first = 2;
    for (const Mesh::Triangle& t : mesh.triangles) {
      const Vec3d a(mesh.points[t[0]]), ab = Vec3d(mesh.points[t[1]]) - a, ac = Vec3d(mesh.points[t[2]]) - a;
      const Vec3d offset = to - from, p = glm::cross(offset, ac);
      const double det = glm::dot(ab, p);
      if (det == 0) continue;
      const double u = glm::dot(from - a, p) / det;
      const Vec3d q = glm::cross(from - a, ab);
      const double v = glm::dot(offset, q) / det, fraction = glm::dot(ac, q) / det;
      if (u >= 0 && v >= 0 && u + v <= 1 && fraction >= 0 && fraction <= 1) first = std::min(first, fraction);
    }
    const auto meeting = tree.firstOn(from, to);
    if (first > 1) {
      EXPECT_FALSE(meeting);
    } else {
      ASSERT_TRUE(meeting);
      EXPECT_NEAR(meeting->fraction, first, 1e-5);
      ++met;
    }
  }
  EXPECT_GT(met, 100);
}

TEST(SurfaceTree, AMeshWithoutTrianglesHasNone) {
  const Mesh empty;
  EXPECT_FALSE(SurfaceTree(empty).nearest({0, 0, 0}));
}

}  // namespace
}  // namespace comet
