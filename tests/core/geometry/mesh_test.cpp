#include "geometry/mesh.h"

#include "geometry/mesh_content.h"
#include "support/meshes.h"

namespace comet {
namespace {

TEST(Mesh, ABoxIsClosedAndObeysEuler) {
  const MeshReport report = reportOn(test::boxMesh({1, 2, 3}));
  EXPECT_EQ(report.points, 8U);
  EXPECT_EQ(report.triangles, 12U);
  EXPECT_EQ(report.edges, 18U);
  EXPECT_EQ(report.points + report.triangles, report.edges + 2);
  EXPECT_TRUE(report.isClosed());
}

TEST(Mesh, ATorusHasEulerNumberZero) {
  const MeshReport report = reportOn(test::torusMesh(2, 0.5, 24, 12));
  EXPECT_EQ(report.points + report.triangles, report.edges);
  EXPECT_TRUE(report.isClosed());
}

TEST(Mesh, FaultsAreCounted) {
  Mesh open = test::boxMesh(Vec3d(1.0));
  open.triangles.pop_back();
  open.parts.pop_back();
  EXPECT_EQ(reportOn(open).openEdges, 3U);
  EXPECT_FALSE(reportOn(open).isClosed());

  Mesh crowded = test::boxMesh(Vec3d(1.0));
  crowded.points.emplace_back(5.0F, 5.0F, 5.0F);
  crowded.normals.emplace_back(0.0F, 1.0F, 0.0F);
  crowded.triangles.push_back({0, 4, 8});
  crowded.parts.push_back(0);
  EXPECT_EQ(reportOn(crowded).crowdedEdges, 1U);
  EXPECT_FALSE(reportOn(crowded).isClosed());

  Mesh thin = test::boxMesh(Vec3d(1.0));
  thin.triangles.push_back({0, 1, 1});
  thin.triangles.push_back({2, 2, 2});
  thin.parts.insert(thin.parts.end(), 2, 0);
  EXPECT_EQ(reportOn(thin).degenerate, 2U);
}

TEST(Mesh, NormalsOfTheBoxPointOutward) {
  const Mesh mesh = test::boxMesh({2, 4, 6});
  double volume = 0;
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
    volume += glm::dot(mesh.areaVector(t), Vec3d(mesh.points[mesh.triangles[t][0]])) / 6;
  EXPECT_NEAR(volume, 48, 1e-5);
}

TEST(MeshContent, SaysWhatIsWrong) {
  EXPECT_EQ(MeshContent(test::boxMesh(Vec3d(1.0))).summary(), "8 points, 12 triangles");
  Mesh cloud = test::boxMesh(Vec3d(1.0));
  cloud.triangles.clear();
  cloud.parts.clear();
  EXPECT_NE(MeshContent(cloud).summary().find("only its vertices"), std::string::npos);
  Mesh open = test::boxMesh(Vec3d(1.0));
  open.triangles.pop_back();
  open.parts.pop_back();
  EXPECT_NE(MeshContent(open).summary().find("3 open edges"), std::string::npos);
  EXPECT_EQ(MeshContent(open).insideTest(), nullptr);
}

TEST(MeshContent, KeepsWhatIsMadeOfIt) {
  const MeshContent content(test::boxMesh(Vec3d(1.0)));
  const MeshRegion surface, edges{MeshPlace::Edges, "", {0, 1, 0}, 0};
  const auto first = content.sampler(surface);
  EXPECT_NE(content.sampler(edges), first);
  EXPECT_EQ(content.sampler(surface), first);
}

}  // namespace
}  // namespace comet
