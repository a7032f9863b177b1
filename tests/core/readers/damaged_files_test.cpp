// Whatever is done to a file of any format: it is read, or refused with its name and a remedy, soon.
//
// COMET_SEED chooses other damage, and COMET_DAMAGED_FILES how many files of each format; 2000 take some
// minutes.
#include "base/error.h"
#include "base/file.h"
#include "geometry/shape_mesh.h"
#include "support/environment.h"
#include "support/files.h"
#include "support/read.h"
#include "support/reader.h"

#include <OpenImageIO/imageio.h>
#include <chrono>
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <random>

namespace comet {
namespace {

using test::reader;

enum class FileClass { Picture, Mesh, Volume };

struct Format {
  std::string extension;
  FileClass holds;
};

const Format kFormats[] = {
    {"png", FileClass::Picture}, {"jpg", FileClass::Picture}, {"tga", FileClass::Picture},
    {"tif", FileClass::Picture}, {"exr", FileClass::Picture}, {"obj", FileClass::Mesh},
    {"ply", FileClass::Mesh},    {"stl", FileClass::Mesh},    {"glb", FileClass::Mesh},
    {"gltf", FileClass::Mesh},   {"vdb", FileClass::Volume}};

using test::numberFromEnvironment;

// Files as other programs write them, not only as this one does.
std::string wholePicture(const std::filesystem::path& path) {
  const auto output = OIIO::ImageOutput::create(path.string());
  const OIIO::ImageSpec spec(24, 16, path.extension() == ".jpg" ? 3 : 4, OIIO::TypeDesc::UINT8);
  std::vector<unsigned char> samples(spec.image_bytes());
  for (std::size_t i = 0; i < samples.size(); ++i) samples[i] = static_cast<unsigned char>(i * 37 % 251);
  EXPECT_TRUE(output->open(path.string(), spec));
  EXPECT_TRUE(output->write_image(OIIO::TypeDesc::UINT8, samples.data()));
  EXPECT_TRUE(output->close());
  return test::bytesOf(path);
}

std::string wholeMesh(const std::string& extension) {
  const Mesh ball = latheMesh(sphereOutline(1));
  if (extension == "obj") return meshBytes(ball, MeshFormat::Obj);
  if (extension == "ply") return meshBytes(ball, MeshFormat::Ply);
  if (extension == "glb") return meshBytes(ball, MeshFormat::Glb);
  if (extension == "gltf")
    return R"({"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0]}],"nodes":[{"mesh":0}],
      "meshes":[{"name":"sail","primitives":[{"attributes":{"POSITION":0}}]}],
      "accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3"}],
      "bufferViews":[{"buffer":0,"byteLength":36}],"buffers":[{"byteLength":36,"uri":
      "data:application/octet-stream;base64,AAAAAAAAAAAAAAAAAACAPwAAAAAAAAAAAAAAAAAAgD8AAAAA"}]})";
  std::string stl = "solid ball\n";
  for (const auto& triangle : ball.triangles) {
    stl += "facet normal 0 0 0\nouter loop\n";
    for (const auto corner : {triangle[0], triangle[1], triangle[2]}) {
      const Vec3& point = ball.points[corner];
      stl += fmt::format("vertex {} {} {}\n", point.x, point.y, point.z);
    }
    stl += "endloop\nendfacet\n";
  }
  return stl + "endsolid ball\n";
}

std::string wholeVolume(const std::filesystem::path& path) {
  VectorVolume volume;
  volume.name = "wind";
  volume.size = {3, 2, 1};
  volume.grid = VectorGrid({6, 4, 5});
  for (int x = 0; x < 6; ++x) volume.grid.at(x, 1, 2) = Vec3(1.0F + static_cast<float>(x), 0, 2);
  writeVectorVolume(path, volume);
  return test::bytesOf(path);
}

class Damage {
 public:
  explicit Damage(int seed) : random_(static_cast<unsigned>(seed)) {}

  std::string of(std::string bytes) {
    for (int times = 1 + pick(3); times > 0; --times) once(bytes);
    return bytes;
  }

 private:
  int pick(std::size_t below) { return static_cast<int>(random_() % std::max<std::size_t>(1, below)); }

  void once(std::string& bytes) {
    if (bytes.empty()) return;
    const auto at = static_cast<std::size_t>(pick(bytes.size()));
    const auto length = std::min(bytes.size() - at, static_cast<std::size_t>(1 + pick(64)));
    switch (pick(8)) {
      case 0:
        return void(bytes.resize(at));
      case 1:
        return void(bytes.erase(at, length));
      case 2:
        return void(bytes.insert(at, bytes.substr(at, length)));
      case 3:
        return void(bytes.replace(at, length, length, pick(2) == 0 ? '\xff' : '\0'));
      case 4:
        return changeNumber(bytes, at);
      default:
        bytes[at] = static_cast<char>(random_());
    }
  }

  // A number of a text, made one that nobody expects.
  void changeNumber(std::string& bytes, std::size_t from) {
    static const char* const kNumbers[] = {"-1", "4294967295", "1e300", "99999999999999999999", "nan", "0"};
    const std::size_t at = bytes.find_first_of("0123456789", from);
    if (at != std::string::npos) bytes.replace(at, 1, kNumbers[pick(std::size(kNumbers))]);
  }

  std::minstd_rand random_;
};

class DamagedFiles : public testing::TestWithParam<Format> {
 protected:
  std::string whole() const {
    const auto path = folder_ / ("whole." + GetParam().extension);
    switch (GetParam().holds) {
      case FileClass::Picture:
        return wholePicture(path);
      case FileClass::Mesh:
        return wholeMesh(GetParam().extension);
      case FileClass::Volume:
        return wholeVolume(path);
    }
    return {};
  }

  void read(const std::filesystem::path& path) const {
    switch (GetParam().holds) {
      case FileClass::Picture:
        return void(reader()->picture(path));
      case FileClass::Mesh:
        return void(reader()->mesh(path));
      case FileClass::Volume:
        return void(reader()->volumes(path));
    }
  }

  test::TemporaryFolder folder_;
};

TEST_P(DamagedFiles, AreReadOrRefusedWithNameAndRemedySoon) {
  const std::string bytes = whole();
  const auto path = folder_ / ("damaged." + GetParam().extension);
  writeFileAtomically(path, bytes);
  ASSERT_NO_THROW(read(path)) << "before anything is done to it";
  const int seed = numberFromEnvironment("COMET_SEED", 7);
  Damage damage(seed);
  const int count = numberFromEnvironment("COMET_DAMAGED_FILES", 60);
  for (int i = 0; i < count; ++i) {
    writeFileAtomically(path, damage.of(bytes));
    const auto begin = std::chrono::steady_clock::now();
    try {
      read(path);
    } catch (const Error& error) {
      EXPECT_EQ(error.kind(), ErrorKind::Input);
      EXPECT_EQ(error.place().rfind(path.string(), 0), 0U) << error.what();
      EXPECT_FALSE(error.remedy().empty()) << error.what();
    }
    constexpr auto kSoon = std::chrono::seconds(30);
    EXPECT_LT(std::chrono::steady_clock::now() - begin, kSoon);
    if (HasFailure()) FAIL() << "file " << i << " of seed " << seed;
  }
}

INSTANTIATE_TEST_SUITE_P(All, DamagedFiles, testing::ValuesIn(kFormats),
                         [](const auto& test) { return test.param.extension; });

}  // namespace
}  // namespace comet
