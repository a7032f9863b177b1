// Files of all kinds, whole and damaged, read in processes of their own.
#include "readers/file_reader.h"

#include "base/error.h"
#include "base/file.h"
#include "geometry/shape_mesh.h"
#include "support/files.h"
#include "support/read.h"
#include "support/reader.h"

#include <fmt/format.h>
#include <gmock/gmock.h>
#include <sys/stat.h>

namespace comet {
namespace {

using test::reader;
using test::TemporaryFolder;
using testing::HasSubstr;

// What is said of a file that is refused; empty if it is read.
template <typename Read>
std::string problemWith(const Read& read) {
  try {
    (void)read();
  } catch (const Error& error) {
    EXPECT_EQ(error.kind(), ErrorKind::Input);
    EXPECT_FALSE(error.place().empty()) << error.what();
    EXPECT_FALSE(error.remedy().empty()) << error.what();
    return error.what();
  }
  return {};
}

std::string problemWithMesh(const std::filesystem::path& path, const std::string& bytes) {
  writeFileAtomically(path, bytes);
  return problemWith([&] { return reader()->mesh(path); });
}

VectorVolume someVolume() {
  VectorVolume volume;
  volume.name = "wind";
  volume.size = {3, 2, 1};
  volume.grid = VectorGrid({6, 4, 5});
  for (int x = 0; x < 6; ++x) volume.grid.at(x, 1, 2) = Vec3(1.0F + static_cast<float>(x), 0, 2);
  return volume;
}

TEST(FileReader, ReadsPicturesOfAllFormatsAsTheyWere) {
  const TemporaryFolder folder;
  // Wider than what is sent at once, so that it comes in pieces.
  Picture picture(700, 500);
  for (int y = 0; y < picture.height(); ++y)
    for (int x = 0; x < picture.width(); ++x)
      picture.at(x, y) = Vec4(static_cast<float>(x) / 700, static_cast<float>(y) / 500, 0.25, 1);
  for (const PictureFormat format : {PictureFormat::Png8, PictureFormat::Png16, PictureFormat::Tga8,
                                     PictureFormat::Tiff16, PictureFormat::ExrHalf, PictureFormat::ExrFloat})
    for (const PictureChannels channels : {PictureChannels::Rgba, PictureChannels::Rgb}) {
      const auto path = folder / fmt::format("a{}", extensionOf(format));
      writePicture(path, picture, format, channels);
      const Picture read = reader()->picture(path);
      ASSERT_EQ(read.width(), 700);
      double max = 0;
      for (int y = 0; y < 500; ++y)
        for (int x = 0; x < 700; ++x)
          for (int c = 0; c < 4; ++c)
            max = std::max<double>(max, std::abs(read.at(x, y)[c] - picture.at(x, y)[c]));
      EXPECT_LT(max, format == PictureFormat::ExrFloat ? 1e-7 : 0.006) << path;
    }
}

TEST(FileReader, ReadsMeshesAndVolumesAsTheyWere) {
  const TemporaryFolder folder;
  const Mesh ball = latheMesh(sphereOutline(2));
  writeFileAtomically(folder / "ball.ply", meshBytes(ball, MeshFormat::Ply));
  const Mesh read = reader()->mesh(folder / "ball.ply"), here = test::readMesh(folder / "ball.ply");
  EXPECT_EQ(read.points, here.points);
  EXPECT_EQ(read.triangles, here.triangles);
  EXPECT_EQ(read.partNames, here.partNames);
  writeVectorVolume(folder / "wind.vdb", someVolume());
  const auto volumes = reader()->volumes(folder / "wind.vdb");
  ASSERT_EQ(volumes.size(), 1U);
  EXPECT_EQ(volumes[0].name, "wind");
  EXPECT_EQ(volumes[0].grid.digest(), someVolume().grid.digest());
}

// A triangle whose numbers lie in a file beside it.
std::string gltfWithBuffer(const std::string& uri) {
  return R"({"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0]}],"nodes":[{"mesh":0}],
    "meshes":[{"name":"sail","primitives":[{"attributes":{"POSITION":0}}]}],
    "accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3","max":[1,1,0],"min":[0,0,0]}],
    "bufferViews":[{"buffer":0,"byteLength":36}],"buffers":[{"byteLength":36,"uri":")" +
         uri + R"("}]})";
}

TEST(FileReader, AGltfNamesFurtherFilesOfItsFolderOnly) {
  const TemporaryFolder folder;
  const float numbers[] = {0, 0, 0, 1, 0, 0, 0, 1, 0};
  const std::string bytes(reinterpret_cast<const char*>(numbers), sizeof numbers);
  makeFolder(folder / "inner/parts");
  writeFileAtomically(folder / "inner/parts/sail.bin", bytes);
  writeFileAtomically(folder / "outer.bin", bytes);
  writeFileAtomically(folder / "inner/sail.gltf", gltfWithBuffer("parts/sail.bin"));
  EXPECT_EQ(reader()->mesh(folder / "inner/sail.gltf").triangles.size(), 1U);
  for (const std::string& uri :
       {std::string("../outer.bin"), (folder / "outer.bin").string(), std::string("gone.bin")})
    EXPECT_NE(problemWithMesh(folder / "inner/other.gltf", gltfWithBuffer(uri)), "") << uri;
}

TEST(FileReader, GoesOnAfterFilesThatEndWhatReadsThem) {
  const TemporaryFolder folder;
  const std::string face =
      "ply\nformat ascii 1.0\nelement vertex 1\nproperty float x\nproperty float y\nproperty float z\n"
      "element face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n0\n";
  EXPECT_NE(problemWithMesh(folder / "face.ply", face), "");
  // Each of 30 nodes names the next one twice: a thousand million meshes.
  std::string nodes;
  for (int i = 0; i < 30; ++i) nodes += fmt::format(R"({{"children":[{0},{0}]}},)", i + 1);
  const std::string dag = R"({"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0]}],"nodes":[)" +
                          nodes + R"({"name":"last"}]})";
  EXPECT_NE(problemWithMesh(folder / "dag.gltf", dag), "");
  EXPECT_NE(problemWithMesh(folder / "deep.gltf", "{\"a\":" + std::string(200000, '[')), "");
  writeFileAtomically(folder / "ball.ply", meshBytes(latheMesh(sphereOutline(2)), MeshFormat::Ply));
  EXPECT_FALSE(reader()->mesh(folder / "ball.ply").triangles.empty()) << "whole files are read as before";
}

TEST(FileReader, TakesRegularFilesOnlyAndWaitsForNobody) {
  const TemporaryFolder folder;
  ASSERT_EQ(mkfifo((folder / "pipe.png").c_str(), 0600), 0);
  const auto problem = [](const std::filesystem::path& path) {
    return problemWith([&] { return reader()->picture(path); });
  };
  EXPECT_THAT(problem(folder / "pipe.png"), HasSubstr("a pipe or a device"));
  EXPECT_THAT(problem("/dev/zero"), HasSubstr("a pipe or a device"));
  EXPECT_THAT(problem(folder.path()), HasSubstr("is a folder"));
  EXPECT_THAT(problem(folder / "gone.png"), HasSubstr("gone.png"));
}

TEST(FileReader, StopsWhenItIsCancelled) {
  const TemporaryFolder folder;
  std::string obj;
  for (int i = 0; i < 400000; ++i) obj += fmt::format("v {} 0 {}\n", i, i % 7);
  for (int i = 3; i < 400000; ++i) obj += fmt::format("f {} {} {}\n", i - 2, i - 1, i);
  writeFileAtomically(folder / "large.obj", obj);
  Progress progress;
  progress.cancel();
  try {
    (void)reader()->mesh(folder / "large.obj", progress);
    FAIL();
  } catch (const Error& error) {
    EXPECT_EQ(error.kind(), ErrorKind::Cancelled);
  }
}

}  // namespace
}  // namespace comet
