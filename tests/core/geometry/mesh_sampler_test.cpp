#include "geometry/mesh_sampler.h"

#include "base/random.h"
#include "support/meshes.h"

#include <functional>
#include <glm/geometric.hpp>
#include <rapidcheck.h>

namespace comet {
namespace {

Vec3d numbersFor(std::uint64_t i, std::uint64_t stream = 0) {
  const RandomSource random(123 + stream);
  return {random.unit(i, Draw::ShapeA), random.unit(i, Draw::ShapeB), random.unit(i, Draw::ShapeC)};
}

std::vector<SurfacePoint> picks(const Mesh& mesh, const MeshRegion& region, int count) {
  const MeshSampler sampler(mesh, region, reportOn(mesh).isClosed());
  EXPECT_FALSE(sampler.isEmpty());
  std::vector<SurfacePoint> points;
  for (int i = 0; i < count; ++i)
    points.push_back(sampler.pick(numbersFor(static_cast<std::uint64_t>(i)), [i](std::uint32_t attempt) {
      return numbersFor(static_cast<std::uint64_t>(i), attempt);
    }));
  return points;
}

MeshRegion region(MeshPlace place, const std::string& part = "") { return {place, part, {0, 1, 0}, 0.5}; }

// Cells of equal area on a 2 × 4 × 6 box: births per cell against an even number of them.
TEST(MeshSampler, SurfaceIsUniformByArea) {
  const Vec3d lengths(2, 4, 6);
  constexpr int kCount = 88000;
  const auto points = picks(test::boxMesh(lengths), region(MeshPlace::Surface), kCount);
  std::map<std::array<int, 4>, int> cells;
  for (const SurfacePoint& point : points) {
    int axis = 0;
    for (int i = 0; i < 3; ++i)
      if (std::abs(point.normal[i]) > 0.5) axis = i;
    ASSERT_NEAR(std::abs(point.at[axis]), lengths[axis] / 2, 1e-6);
    const auto cell = [&](int other) {
      return std::min(static_cast<int>(point.at[other] + lengths[other] / 2),
                      static_cast<int>(lengths[other]) - 1);
    };
    ++cells[{axis, point.normal[axis] > 0 ? 1 : 0, cell((axis + 1) % 3), cell((axis + 2) % 3)}];
  }
  // 88 unit squares: two faces each of 4 × 6, 6 × 2 and 2 × 4.
  ASSERT_EQ(cells.size(), 88U);
  double chi = 0;
  for (const auto& [cell, count] : cells) chi += (count - 1000.0) * (count - 1000.0) / 1000.0;
  // 99.9 % of chi-square with 87 degrees of freedom.
  EXPECT_LT(chi, 133.5);
}

TEST(MeshSampler, PartsAndFacingLimitTheSurface) {
  const Mesh mesh = test::boxMesh({2, 4, 6});
  for (const SurfacePoint& point : picks(mesh, region(MeshPlace::Surface, "y"), 500))
    ASSERT_NEAR(std::abs(point.at.y), 2, 1e-6);
  for (const SurfacePoint& point : picks(mesh, region(MeshPlace::Surface, "paint"), 500))
    ASSERT_NEAR(std::abs(point.at.z), 3, 1e-6);
  for (const SurfacePoint& point : picks(mesh, region(MeshPlace::Facing), 500)) {
    ASSERT_NEAR(point.at.y, 2, 1e-6);
    ASSERT_NEAR(point.normal.y, 1, 1e-9);
  }
}

TEST(MeshSampler, VerticesAndEdges) {
  const Mesh mesh = test::boxMesh({2, 4, 6});
  std::map<int, int> corners;
  for (const SurfacePoint& point : picks(mesh, region(MeshPlace::Vertices), 8000))
    ++corners[(point.at.x > 0) + 2 * (point.at.y > 0) + 4 * (point.at.z > 0)];
  ASSERT_EQ(corners.size(), 8U);
  for (const auto& [corner, count] : corners) EXPECT_NEAR(count, 1000, 5 * std::sqrt(1000));
  // By length: of all edges, diagonals included, those along z.
  double all = 0, alongZ = 0;
  for (const auto& [a, b] : edgesOf(mesh)) {
    const Vec3d offset = glm::abs(Vec3d(mesh.points[a]) - Vec3d(mesh.points[b]));
    all += glm::length(offset);
    if (offset.x == 0 && offset.y == 0) alongZ += glm::length(offset);
  }
  int onZ = 0;
  for (const SurfacePoint& point : picks(mesh, region(MeshPlace::Edges), 20000))
    onZ += std::abs(std::abs(point.at.x) - 1) < 1e-6 && std::abs(std::abs(point.at.y) - 2) < 1e-6 ? 1 : 0;
  const double fraction = alongZ / all;
  EXPECT_NEAR(onZ / 20000.0, fraction, 5 * std::sqrt(fraction * (1 - fraction) / 20000));
}

TEST(MeshSampler, InsideFillsTheVolumeEvenly) {
  Vec3d squares(0.0);
  constexpr int kCount = 40000;
  for (const SurfacePoint& point : picks(test::boxMesh({2, 4, 6}), region(MeshPlace::Inside), kCount)) {
    ASSERT_LE(std::abs(point.at.x), 1);
    ASSERT_LE(std::abs(point.at.y), 2);
    ASSERT_LE(std::abs(point.at.z), 3);
    squares += point.at * point.at;
  }
  for (int axis = 0; axis < 3; ++axis) {
    const double length = 2 + 2 * axis;
    EXPECT_NEAR(squares[axis] / kCount, length * length / 12, 0.02 * length * length);
  }
}

TEST(MeshSampler, InsideOfATorusLeavesItsHoleFree) {
  // The mesh lies within the round torus, at most by the depth of its facets.
  const Mesh torus = test::torusMesh(2, 0.6, 96, 48);
  double volumeSum = 0;
  const auto points = picks(torus, region(MeshPlace::Inside), 5000);
  for (const SurfacePoint& point : points) {
    const double fromRing = std::hypot(point.at.x, point.at.z) - 2;
    ASSERT_LE(std::hypot(fromRing, point.at.y), 0.6 + 1e-6);
    volumeSum += fromRing;
  }
  // By Pappus the mean distance from the axis of a torus's volume is R + r² / 4R.
  EXPECT_NEAR(volumeSum / static_cast<double>(points.size()), 0.36 / 8, 0.02);
}

TEST(MeshSampler, WhatTheMeshLacksIsEmpty) {
  Mesh open = test::boxMesh(Vec3d(1.0));
  open.triangles.pop_back();
  open.parts.pop_back();
  EXPECT_TRUE(MeshSampler(open, region(MeshPlace::Inside), false).isEmpty());
  EXPECT_TRUE(MeshSampler(open, region(MeshPlace::Surface, "no such part"), false).isEmpty());
  Mesh cloud = open;
  cloud.triangles.clear();
  cloud.parts.clear();
  EXPECT_TRUE(MeshSampler(cloud, region(MeshPlace::Surface), false).isEmpty());
  EXPECT_FALSE(MeshSampler(cloud, region(MeshPlace::Vertices), false).isEmpty());
}

TEST(VerticalLines, AgreeWithTheTorusItself) {
  const Mesh torus = test::torusMesh(2, 0.6, 96, 48);
  const VerticalLines lines(torus);
  int inside = 0;
  EXPECT_TRUE(rc::check([&] {
    const auto number = [] { return *rc::gen::inRange(-3000, 3000) / 1000.0; };
    const Vec3d point(number(), number() / 3, number());
    const double distance = std::hypot(std::hypot(point.x, point.z) - 2, point.y);
    // The facets lie between the round torus and one thinner by their depth.
    if (std::abs(distance - 0.6) < 0.01) return;
    inside += distance < 0.6 ? 1 : 0;
    RC_ASSERT(lines.isInside(point) == (distance < 0.6));
  }));
  EXPECT_GT(inside, 5);
}

// Lines through points and along edges of the mesh, where each edge belongs to two triangles.
TEST(VerticalLines, LinesThroughEdgesStayPaired) {
  const Mesh box = test::boxMesh(Vec3d(2.0));
  const VerticalLines lines(box);
  std::vector<double> heights;
  for (int x = -4; x <= 4; ++x)
    for (int z = -4; z <= 4; ++z) {
      lines.crossings(x / 4.0, z / 4.0, heights);
      EXPECT_EQ(heights.size() % 2, 0U) << x << " " << z;
      if (std::abs(x) < 4 && std::abs(z) < 4) {
        ASSERT_EQ(heights.size(), 2U);
        EXPECT_NEAR(heights[0], -1, 1e-9);
        EXPECT_NEAR(heights[1], 1, 1e-9);
      }
    }
}

}  // namespace
}  // namespace comet
