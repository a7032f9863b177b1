#include "bake/sweep_files.h"

#include "base/file.h"
#include "support/files.h"
#include "support/read.h"
#include "support/scenes.h"

#include <nlohmann/json.hpp>

namespace comet {
namespace {

std::vector<std::string> contents(const std::vector<std::filesystem::path>& files) {
  std::vector<std::string> all;
  for (const auto& file : files) all.push_back(readFile(file, std::size_t{1} << 24));
  return all;
}

TEST(SweepFiles, AreThoseOfSingleRuns) {
  const FrameRange frames{1, 96};
  const Scene scene = test::with(test::starting(), {"scene.last_frame=96", "emitter.rate=60"});
  const auto write = [&](const std::string& values, const std::filesystem::path& folder) {
    SceneRun run(scene, test::roomyCache());
    return contents(writeSweep(Sweep(scene, {axisFromText(scene, "emitter.speed=" + values)}), run,
                               {folder, "s", frames, {24, 16}}));
  };
  const test::TemporaryFolder folder;
  const auto all = write("1,2,3,4,5,6,7,8,9", folder.path());
  ASSERT_EQ(all.size(), 9U * 96 + 2);
  for (std::size_t v = 0; v < 9; ++v) {
    const auto alone = write(std::to_string(v + 1), folder.path());
    for (std::size_t f = 0; f < 96; ++f) ASSERT_EQ(all[v * 96 + f], alone[f]) << v << " at " << f + 1;
  }
}

TEST(SweepFiles, SayWhichIsWhich) {
  const Scene scene = test::starting();
  const test::TemporaryFolder folder;
  SceneRun run(scene, test::roomyCache());
  const Sweep sweep(scene,
                    {axisFromText(scene, "emitter.rate=50,90"), axisFromText(scene, "emitter.speed=1,2,3")});
  const auto written = writeSweep(sweep, run, {folder.path(), "s", {4, 6}, {24, 16}});
  const auto told = nlohmann::json::parse(readFile(written.back(), 1 << 20));
  ASSERT_EQ(told["variants"].size(), 6U);
  EXPECT_EQ(told["variants"][3]["values"], nlohmann::json({90.0, 2.0}));
  EXPECT_EQ(told["parameters"][1]["parameter"], "speed");
  EXPECT_EQ(told["sheet"]["columns"], 2);
  EXPECT_EQ(told["sheet"]["frame"], 5);
  for (const auto& variant : told["variants"])
    for (const auto& image : variant["images"])
      EXPECT_TRUE(std::filesystem::exists(folder.path() / image.get<std::string>()));
}

TEST(SweepFiles, ShowOneParameterInASheetAboutAsWideAsHigh) {
  const Scene scene = test::starting();
  const test::TemporaryFolder folder;
  SceneRun run(scene, test::roomyCache());
  const auto written = writeSweep(Sweep(scene, {axisFromText(scene, "emitter.rate=10..90/5")}), run,
                                  {folder.path(), "s", {4, 4}, {24, 16}});
  const auto told = nlohmann::json::parse(readFile(written.back(), 1 << 20));
  EXPECT_EQ(told["sheet"]["columns"], 3);
  EXPECT_EQ(told["sheet"]["rows"], 2);
  const Picture sheet = test::readPicture(written[written.size() - 2]);
  EXPECT_EQ(sheet.width(), 3 * 24);
  EXPECT_EQ(sheet.height(), 2 * 16);
}

TEST(SweepFiles, SimulateOnceWhatVariantsShare) {
  // Nothing differs before the burst.
  const Scene scene = test::with(test::starting(), {R"(emitter.bursts=[{"frame":20,"count":9}])"});
  const auto cache = test::roomyCache();
  SceneRun run(scene, cache);
  const Sweep sweep(
      scene, {axisFromText(scene, R"(emitter.bursts=[{"frame":20,"count":9}];[{"frame":20,"count":90}])")});
  const test::TemporaryFolder folder;
  (void)writeSweep(sweep, run, {folder.path(), "s", {1, 20}, {24, 16}});
  SceneRun first = run.of(sweep.scene(0)), second = run.of(sweep.scene(1));
  EXPECT_EQ(first.frame(19), second.frame(19)) << "the very same";
  EXPECT_NE(first.frame(20), second.frame(20));
}

}  // namespace
}  // namespace comet
