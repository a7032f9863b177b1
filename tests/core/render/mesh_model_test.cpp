#include "render/mesh_model.h"

#include "support/meshes.h"

#include <glm/geometric.hpp>
#include <gtest/gtest.h>
#include <limits>

namespace comet {
namespace {

double volumeOf(const MeshModel::Level& level) {
  double volume = 0;
  for (const MeshModel::Face& face : level.faces)
    volume += glm::dot(level.points[face.points[0]].at,
                       glm::cross(level.points[face.points[1]].at, level.points[face.points[2]].at)) /
              6;
  return volume;
}

TEST(MeshModel, WhatIsSmallHasFewFacesThatLieWhereTheMeshLies) {
  const MeshModel ball(MeshContent(test::ballMesh(3, 96, 64)));
  std::size_t before = 0;
  for (const double pixels : {2.0, 8.0, 32.0, 128.0}) {
    const MeshModel::Level& level = ball.levelFor(pixels);
    EXPECT_GT(level.faces.size(), before) << pixels;
    before = level.faces.size();
    double surface = 0, inwards = 0;
    // A ball of that size, whose longest side is one: corners and the middles of faces lie near it.
    for (const MeshModel::Face& face : level.faces) {
      Vec3d middle(0.0);
      for (const std::uint32_t point : face.points) {
        EXPECT_NEAR(glm::length(level.points[point].at) * pixels, 0.5 * pixels, 1.5 * MeshModel::kTolerance);
        middle += level.points[point].at / 3.0;
      }
      EXPECT_NEAR(glm::length(middle) * pixels, 0.5 * pixels, 1.5 * MeshModel::kTolerance) << pixels;
      const Vec3d& a = level.points[face.points[0]].at;
      const double area =
          glm::length(glm::cross(level.points[face.points[1]].at - a, level.points[face.points[2]].at - a)) /
          2;
      surface += area;
      if (!(glm::dot(face.normal, middle) > 0)) inwards += area;
    }
    EXPECT_NEAR(volumeOf(level), kPi / 6, 0.01);
    // The poles of this ball are many points each.
    EXPECT_LT(inwards, 0.005 * surface) << pixels;
  }
  EXPECT_LT(ball.levelFor(8).faces.size(), ball.triangles() / 15);
  EXPECT_EQ(&ball.levelFor(1e6), &ball.levels().front());
  EXPECT_EQ(&ball.levelFor(std::numeric_limits<double>::infinity()), &ball.levels().front());
}

TEST(MeshModel, OfFlatSheetsNothingIsLost) {
  constexpr std::uint32_t kSide = 24;
  Mesh sheet;
  for (std::uint32_t j = 0; j <= kSide; ++j)
    for (std::uint32_t i = 0; i <= kSide; ++i) {
      sheet.points.emplace_back(static_cast<float>(i), 0.0F, static_cast<float>(j));
      sheet.normals.emplace_back(0.0F, 1.0F, 0.0F);
    }
  for (std::uint32_t j = 0; j < kSide; ++j)
    for (std::uint32_t i = 0; i < kSide; ++i) {
      const std::uint32_t at = j * (kSide + 1) + i;
      sheet.triangles.push_back({at, at + kSide + 1, at + 1});
      sheet.triangles.push_back({at + 1, at + kSide + 1, at + kSide + 2});
    }
  sheet.partNames = {{"sheet", ""}};
  sheet.parts.assign(sheet.triangles.size(), 0);
  const MeshModel model{MeshContent(sheet)};
  EXPECT_EQ(&model.levelFor(100), &model.levels().front()) << "light may change from corner to corner";
  const MeshModel::Level& level = model.levelFor(8);
  EXPECT_LE(level.faces.size(), 64 / MeshModel::kFaceArea);
  double area = 0;
  for (const MeshModel::Face& face : level.faces) {
    const Vec3d& a = level.points[face.points[0]].at;
    area +=
        glm::length(glm::cross(level.points[face.points[1]].at - a, level.points[face.points[2]].at - a)) / 2;
    EXPECT_NEAR(face.normal.y, 1, 1e-9);
  }
  EXPECT_NEAR(area, 1, 1e-6);
}

TEST(MeshModel, WhatHasNoFacesHasOneLevel) {
  const MeshModel none{MeshContent(Mesh())};
  EXPECT_EQ(none.levels().size(), 1U);
  EXPECT_TRUE(none.levelFor(10).faces.empty());
}

}  // namespace
}  // namespace comet
