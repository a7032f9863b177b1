#include "geometry/picture_mesh.h"

#include "support/meshes.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <random>

namespace comet {
namespace {

// Opaque white within a radius of the middle, or within two discs that meet at a corner.
Picture discs(int size, const std::vector<Vec3d>& centresAndRadii) {
  Picture picture(size, size);
  for (int y = 0; y < size; ++y)
    for (int x = 0; x < size; ++x)
      for (const Vec3d& disc : centresAndRadii)
        if (std::hypot(x + 0.5 - disc.x, y + 0.5 - disc.y) < disc.z) picture.at(x, y) = Vec4(1.0F);
  return picture;
}

TEST(CutOut, OfADiscIsAClosedCylinderWithItsNormalsOutwards) {
  const Mesh mesh = cutOutOf(discs(256, {{128, 128, 64}}), {64, 4}, 0.5, 0.5);
  const MeshReport report = reportOn(mesh);
  EXPECT_TRUE(report.isClosed());
  EXPECT_EQ(report.degenerate, 0U);
  // A quarter of the width is the radius: π r² h, positive only if faces look outwards.
  EXPECT_NEAR(volumeOf(mesh) / (kPi * 1 * 1 * 0.5), 1, 0.02);
  EXPECT_NEAR(mesh.bounds().max.x, 1, 0.04);
  EXPECT_NEAR(mesh.bounds().max.z, 0.25, 1e-6);
}

TEST(CutOut, UpIsUpAndTheRightIsRight) {
  const Mesh mesh = cutOutOf(discs(64, {{48, 16, 8}}), {32, 2}, 0.5, 1);
  EXPECT_NEAR(mesh.bounds().centre().x, 0.5, 0.05);
  EXPECT_NEAR(mesh.bounds().centre().y, 0.5, 0.05);
}

TEST(CutOut, ClosesWhereItTouchesThePicturesEdge) {
  Picture full(30, 20);
  for (int y = 0; y < 20; ++y)
    for (int x = 0; x < 30; ++x) full.at(x, y) = Vec4(1.0F);
  const Mesh mesh = cutOutOf(full, {30, 3}, 0.5, 1);
  EXPECT_TRUE(reportOn(mesh).isClosed());
  // About half a cell wider all round.
  EXPECT_NEAR(volumeOf(mesh), 3.1 * 2.1, 0.05);
}

TEST(CutOut, IsClosedWhateverThePictureAndEmptyIfNothingIsOpaque) {
  std::mt19937 random(5);
  std::uniform_real_distribution<float> alpha(0, 1);
  for (int round = 0; round < 20; ++round) {
    Picture noise(17 + round, 23);
    for (int y = 0; y < noise.height(); ++y)
      for (int x = 0; x < noise.width(); ++x) noise.at(x, y) = Vec4(alpha(random));
    const Mesh mesh = cutOutOf(noise, {23, 1}, 0.6, 0.2);
    const MeshReport report = reportOn(mesh);
    EXPECT_GT(report.triangles, 100U);
    EXPECT_TRUE(report.isClosed()) << report.openEdges << " open, " << report.crowdedEdges << " crowded";
    EXPECT_GT(volumeOf(mesh), 0);
  }
  EXPECT_TRUE(cutOutOf(Picture(8, 8), {8, 1}, 0.5, 1).triangles.empty());
}

TEST(Relief, IsAsHighAsThePictureIsBright) {
  // Black on the left to white on the right.
  Picture ramp(101, 51);
  for (int y = 0; y < 51; ++y)
    for (int x = 0; x < 101; ++x) ramp.at(x, y) = Vec4(Vec3(static_cast<float>(x) / 100), 1);
  const Mesh mesh = reliefOf(ramp, {100, 10}, 3);
  EXPECT_EQ(reportOn(mesh).crowdedEdges, 0U);
  for (const Vec3& point : mesh.points) EXPECT_NEAR(point.y, 3 * (point.x + 5) / 10, 0.04);
  EXPECT_NEAR(mesh.bounds().extent().z, 5, 0.1);
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) EXPECT_GT(mesh.faceNormal(t).y, 0.9);
}

TEST(Relief, HasThePicturesUpperEdgeFarAway) {
  Picture picture(20, 20);
  for (int x = 0; x < 20; ++x) picture.at(x, 0) = picture.at(x, 1) = Vec4(1.0F);
  const Mesh mesh = reliefOf(picture, {10, 2}, 1);
  for (const Vec3& point : mesh.points) EXPECT_TRUE(point.y < 0.4F || point.z < -0.7F);
}

}  // namespace
}  // namespace comet
