#include "geometry/mesh_file.h"

#include "base/error.h"
#include "base/file.h"

#include <algorithm>

namespace comet {
namespace {

// Two quads that fraction an edge, in two groups, the second with a material.
constexpr const char* kObj =
    "o boat\nv 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv 2 0 0\nv 2 1 0\n"
    "g deck\nf 1 2 3 4\ng rail\nusemtl rope\nf 2 5 6 3\n";

std::string problemOf(const std::string& bytes, const std::string& name) {
  try {
    (void)meshFromBytes(bytes, name);
  } catch (const Error& error) {
    EXPECT_EQ(error.kind(), ErrorKind::Input);
    return error.what();
  }
  return {};
}

TEST(MeshFile, ObjPointsAreJoinedAndPartsKept) {
  const Mesh mesh = meshFromBytes(kObj, "boat.obj");
  EXPECT_EQ(mesh.points.size(), 6U);
  EXPECT_EQ(mesh.triangles.size(), 4U);
  EXPECT_EQ(mesh.normals.size(), mesh.points.size());
  const std::vector<std::string> names = mesh.namesOfParts();
  for (const char* name : {"deck", "rail"})
    EXPECT_NE(std::find(names.begin(), names.end(), name), names.end()) << name;
  std::size_t onDeck = 0;
  for (std::size_t t = 0; t < 4; ++t) onDeck += mesh.isIn(t, "deck") ? 1 : 0;
  EXPECT_EQ(onDeck, 2U);
  EXPECT_EQ(reportOn(mesh).edges, 9U);
}

TEST(MeshFile, PlyStlAndGltfAreRead) {
  const std::string ply =
      "ply\nformat ascii 1.0\nelement vertex 4\nproperty float x\nproperty float y\nproperty float z\n"
      "element face 1\nproperty list uchar int vertex_indices\nend_header\n"
      "0 0 0\n1 0 0\n1 1 0\n0 1 0\n4 0 1 2 3\n";
  EXPECT_EQ(meshFromBytes(ply, "a.ply").triangles.size(), 2U);
  const std::string stl =
      "solid t\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\n"
      "facet normal 0 0 1\nouter loop\nvertex 1 0 0\nvertex 1 1 0\nvertex 0 1 0\nendloop\nendfacet\nendsolid "
      "t\n";
  const Mesh fromStl = meshFromBytes(stl, "a.stl");
  EXPECT_EQ(fromStl.triangles.size(), 2U);
  // The format repeats each corner; joined there are four.
  EXPECT_EQ(fromStl.points.size(), 4U);
  // One triangle: three positions of three floats, three 16-bit indices.
  const std::string gltf = R"({"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0]}],
    "nodes":[{"mesh":0,"translation":[5,0,0]}],"meshes":[{"name":"sail","primitives":[{"attributes":{"POSITION":0},"indices":1}]}],
    "accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3","max":[1,1,0],"min":[0,0,0]},
                 {"bufferView":1,"componentType":5123,"count":3,"type":"SCALAR"}],
    "bufferViews":[{"buffer":0,"byteLength":36},{"buffer":0,"byteOffset":36,"byteLength":6}],
    "buffers":[{"byteLength":42,"uri":"data:application/octet-stream;base64,AAAAAAAAAAAAAAAAAACAPwAAAAAAAAAAAAAAAAAAgD8AAAAAAAABAAIA"}]})";
  const Mesh sail = meshFromBytes(gltf, "sail.gltf");
  ASSERT_EQ(sail.triangles.size(), 1U);
  EXPECT_NEAR(sail.bounds().min.x, 5, 1e-6);
  EXPECT_NEAR(sail.bounds().max.x, 6, 1e-6);
}

TEST(MeshFile, PointsWithoutFacesAreAMeshToo) {
  const std::string ply =
      "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float "
      "z\nend_header\n"
      "0 0 0\n1 0 0\n1 1 0\n";
  const Mesh cloud = meshFromBytes(ply, "cloud.ply");
  EXPECT_EQ(cloud.points.size(), 3U);
  EXPECT_TRUE(cloud.triangles.empty());
}

TEST(MeshFile, BadFilesAreRefusedInWords) {
  EXPECT_NE(problemOf("v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n", "a.obj"), "");
  EXPECT_NE(problemOf("this is no mesh", "a.obj"), "");
  EXPECT_NE(problemOf("", "a.stl"), "");
  EXPECT_NE(problemOf("ply\nformat ascii 1.0\nelement vertex 99999999\n", "a.ply"), "");
  // The library would search such a line's end for ever.
  const char broken[] = "ply\nformat ascii 1.0\nelement vertex 1\np\0operty float x\nend_header\n0 0 0\n";
  EXPECT_NE(problemOf({broken, sizeof broken - 1}, "a.ply").find("line 4"), std::string::npos);
  EXPECT_NE(
      problemOf("ply\nformat ascii 1.0\nelement vertex 1\nproperty half x\nend_header\n0 0 0\n", "a.ply"),
      "");
  EXPECT_NE(
      problemOf(
          "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\n"
          "element face 1\nproperty list uchar int vertex_indices\nend_header\n"
          "0 0 0\n1 0 0\n0 1 0\n3 10 0 1\n",
          "a.ply")
          .find("names point 11"),
      std::string::npos);
  EXPECT_NE(problemOf("ply\nformat ascii 1.0\n", "a.glb").find("glTF"), std::string::npos)
      << "one format under the name of another";
  EXPECT_NE(problemOf("x", "a.blob").find("OBJ, PLY, STL or glTF"), std::string::npos);
  EXPECT_NE(problemOf("{}", "a.gltf"), "");
  // What the library would take minutes for.
  std::string polygon, face = "f", header = "ply\nformat ascii 1.0\nelement vertex 1\n";
  for (int i = 0; i < 10001; ++i) {
    polygon += "v " + std::to_string(i) + " 0 " + std::to_string(i % 2) + "\n";
    face += ' ';
    face += std::to_string(i + 1);
  }
  EXPECT_NE(problemOf(polygon + face + "\n", "a.obj").find("10001 corners"), std::string::npos);
  for (int i = 0; i < 1000; ++i) header += "property float x" + std::to_string(i) + "\n";
  EXPECT_NE(problemOf(header + "end_header\n0\n", "a.ply").find("more than 1000 lines"), std::string::npos);
}

}  // namespace
}  // namespace comet
