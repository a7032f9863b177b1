#include "bake/data_export.h"

#include "base/error.h"
#include "base/file.h"
#include "support/files.h"
#include "support/scenes.h"

#include <gmock/gmock.h>

namespace comet {
namespace {

using test::with;

// Something of every kind: particles with trails, links and a surface, that hit a floor.
Scene everything() {
  Scene scene =
      with(test::gasScene(), {"emitter.rate=60", "emitter.cone=60", "emitter.trail=ribbon",
                              "emitter.sprite=card", "emitter.links=near", "emitter.surface=particles"});
  scene = test::withInfluence(scene, "gravity");
  return test::withInfluence(scene, "deflector");
}

DataExport wantedOf(DataKind kind, const std::string& format, const std::filesystem::path& folder) {
  DataExport wanted;
  wanted.kind = kind;
  wanted.format = format;
  wanted.frames = {30, 31};
  wanted.folder = folder;
  wanted.stem = "scene";
  return wanted;
}

class DataExports : public testing::TestWithParam<DataKind> {};

TEST_P(DataExports, WritesEveryFormatOfItsKind) {
  Scene scene = everything();
  SceneRun run(scene, test::roomyCache());
  for (const std::string& format : formatsOf(GetParam())) {
    const test::TemporaryFolder folder;
    const auto written = exportData(run, wantedOf(GetParam(), format, folder.path()), Progress());
    EXPECT_EQ(written.size(), format == "usda" ? 1U : 2U)
        << format << ": one for all frames, or one for each";
    for (const auto& file : written) {
      EXPECT_EQ(file.extension(), "." + format);
      EXPECT_GT(std::filesystem::file_size(file), 100U) << file;
    }
  }
}

INSTANTIATE_TEST_SUITE_P(Kinds, DataExports,
                         testing::Values(DataKind::Particles, DataKind::Hits, DataKind::Trails,
                                         DataKind::Links, DataKind::Surfaces, DataKind::Gases,
                                         DataKind::Cards),
                         [](const auto& made) {
                           return std::string(kDataKinds[static_cast<std::size_t>(made.param)]);
                         });

TEST(DataExport, RefusesAFormatThatIsNotOfTheKind) {
  const Scene scene = test::starting();
  SceneRun run(scene, test::roomyCache());
  const test::TemporaryFolder folder;
  try {
    (void)exportData(run, wantedOf(DataKind::Particles, "glb", folder.path()), Progress());
    FAIL() << "written";
  } catch (const Error& error) {
    EXPECT_EQ(error.kind(), ErrorKind::Usage);
    EXPECT_THAT(error.remedy(), testing::HasSubstr("csv, ply, vdb, usda"));
  }
  EXPECT_TRUE(std::filesystem::is_empty(folder.path()));
}

TEST(DataExport, StopsWhenItIsToldTo) {
  const Scene scene = test::starting();
  SceneRun run(scene, test::roomyCache());
  const test::TemporaryFolder folder;
  Progress progress;
  progress.cancel();
  EXPECT_THROW(exportData(run, wantedOf(DataKind::Particles, "csv", folder.path()), progress), Error);
  EXPECT_TRUE(std::filesystem::is_empty(folder.path()));
}

}  // namespace
}  // namespace comet
