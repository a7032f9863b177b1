// Volume files: read what another program's reader reads, and refuse what they cannot be.
#include "io/volume_file.h"

#include "base/error.h"
#include "io/volume_content.h"
#include "support/files.h"
#include "support/read.h"

#include <cstdio>
#include <fstream>
#include <gmock/gmock.h>
#include <iterator>

namespace comet {
namespace {

using test::TemporaryFolder;

VectorVolume whirl() {
  VectorVolume volume;
  volume.name = "wind";
  volume.grid = VectorGrid({6, 4, 5});
  volume.centre = {1, 2, 3};
  volume.size = {3, 2, 2.5};
  for (int z = 0; z < 5; ++z)
    for (int y = 0; y < 4; ++y)
      for (int x = 0; x < 6; ++x)
        volume.grid.at(x, y, z) =
            Vec3(static_cast<float>(x + 1), static_cast<float>(-y), 0.5F * static_cast<float>(z));
  return volume;
}

std::string contentOf(const std::filesystem::path& path) {
  std::ifstream stream(path, std::ios::binary);
  return {std::istreambuf_iterator<char>(stream), {}};
}

std::string problemOf(const std::string& bytes) {
  try {
    (void)vectorVolumesFromBytes(bytes, "field.vdb");
  } catch (const Error& error) {
    EXPECT_EQ(error.kind(), ErrorKind::Input);
    return error.what();
  }
  return {};
}

TEST(VolumeFile, ComesBackAsItWasWritten) {
  const TemporaryFolder folder;
  const VectorVolume written = whirl();
  writeVectorVolume(folder / "wind.vdb", written);
  const std::vector<VectorVolume> read = test::readVolumes(folder / "wind.vdb");
  ASSERT_EQ(read.size(), 1U);
  EXPECT_EQ(read[0].name, "wind");
  EXPECT_EQ(read[0].grid.counts(), written.grid.counts());
  EXPECT_EQ(read[0].grid.digest(), written.grid.digest());
  for (int axis = 0; axis < 3; ++axis) {
    EXPECT_NEAR(read[0].centre[axis], written.centre[axis], 1e-9);
    EXPECT_NEAR(read[0].size[axis], written.size[axis], 1e-9);
  }
}

TEST(VolumeFile, IsWhatTheFormatsOwnToolReads) {
  const TemporaryFolder folder;
  writeVectorVolume(folder / "wind.vdb", whirl());
  const std::string command = "vdb_print -l " + (folder / "wind.vdb").string() + " 2>&1";
  FILE* pipe = popen(command.c_str(), "r");
  ASSERT_NE(pipe, nullptr);
  std::string text;
  char buffer[512];
  while (fgets(buffer, sizeof buffer, pipe)) text += buffer;
  EXPECT_EQ(pclose(pipe), 0) << text;
  EXPECT_THAT(text, testing::HasSubstr("wind"));
  EXPECT_THAT(text, testing::HasSubstr("vec3s"));
  EXPECT_THAT(text, testing::HasSubstr("Max value: [6, 0, 2]"));
}

TEST(VolumeFile, ContentIsNamedAndSummedUp) {
  VectorVolume other = whirl();
  other.name = "other";
  const VolumeContent content({whirl(), other});
  EXPECT_EQ(content.named("other").name, "other");
  EXPECT_EQ(content.named("").name, "wind");
  EXPECT_EQ(content.named("gone").name, "wind");
  EXPECT_THAT(content.summary(), testing::HasSubstr("wind: 6 × 4 × 5 vectors"));
  EXPECT_NE(content.digest(), VolumeContent({whirl()}).digest());
}

TEST(VolumeFile, RefusesWhatIsNoVolume) {
  EXPECT_THAT(problemOf(""), testing::HasSubstr("is not a volume file"));
  EXPECT_THAT(problemOf("\x89PNG\r\n\x1a\n and so on"), testing::HasSubstr("is not a volume file"));
}

TEST(VolumeFile, RefusesOneThatIsCutShortAnywhere) {
  const TemporaryFolder folder;
  writeVectorVolume(folder / "wind.vdb", whirl());
  const std::string bytes = contentOf(folder / "wind.vdb");
  for (std::size_t length = 8; length < bytes.size(); length += 1 + bytes.size() / 60)
    EXPECT_NE(problemOf(bytes.substr(0, length)), "") << length << " of " << bytes.size();
}

}  // namespace
}  // namespace comet
