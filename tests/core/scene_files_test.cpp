// Scenes with the files that they use: found, missing, damaged, fixed.
#include "scene_files.h"

#include "base/error.h"
#include "base/file.h"
#include "demos.h"
#include "io/picture_content.h"
#include "io/picture_file.h"
#include "scene/scene_file.h"
#include "simulation/gas/gas_kind.h"
#include "support/files.h"
#include "support/read.h"
#include "support/reader.h"
#include "support/scenes.h"

#include <algorithm>
#include <fstream>

namespace comet {
namespace {

using test::starting;
using test::with;

void writeGrey(const std::filesystem::path& path, int width, int height, float grey) {
  Picture picture(width, height);
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x) picture.at(x, y) = Vec4(grey, grey, grey, 1);
  writePicture(path, picture, PictureFormat::Png8, PictureChannels::Rgba);
}

const FileRef& pictureOf(const Scene& scene) {
  return std::get<FileRef>(scene.findByName("emitter")->value("picture").base);
}

TEST(SceneFiles, AreFoundBesideTheScene) {
  const test::TemporaryFolder folder;
  writeGrey(folder / "cloud.png", 6, 4, 0.5F);
  const Scene scene = with(starting(), {"emitter.sprite=picture", "emitter.picture=cloud.png"});
  writeScene(folder / "a.comet", scene);
  const Scene opened = openScene(folder / "a.comet", test::reader());
  ASSERT_TRUE(pictureOf(opened).content);
  EXPECT_EQ(pictureOf(opened).content->summary(), "6 × 4 pixels");
  EXPECT_TRUE(missingFiles(opened).empty());
  // What was read is not written; the path is.
  EXPECT_EQ(textFromScene(opened), textFromScene(scene));
}

TEST(SceneFiles, AMissingOneLeavesTheSceneWholeAndIsNamed) {
  const test::TemporaryFolder folder;
  writeScene(folder / "a.comet",
             with(starting(), {"emitter.sprite=picture", "emitter.picture=gone.png", "emitter.rate=77"}));
  const Scene opened = openScene(folder / "a.comet", test::reader());
  EXPECT_EQ(opened.findByName("emitter")->number("rate", 1), 77);
  const auto missing = missingFiles(opened);
  ASSERT_EQ(missing.size(), 1U);
  EXPECT_EQ(missing[0].param, "picture");
  EXPECT_NE(missing[0].message.find("gone.png"), std::string::npos);
  // Put there, it is found at the next reading.
  writeGrey(folder / "gone.png", 2, 2, 1);
  EXPECT_TRUE(missingFiles(withFilesRead(opened, folder.path(), test::reader())).empty());
}

TEST(SceneFiles, OnesThatDoNotApplyAreNotMissed) {
  const Scene scene =
      withFilesRead(with(starting(), {"emitter.picture=/nowhere/gone.png"}), {}, test::reader());
  EXPECT_TRUE(missingFiles(scene).empty());
}

TEST(SceneFiles, DamagedPicturesSayWhatIsWrong) {
  const test::TemporaryFolder folder;
  writeGrey(folder / "whole.png", 300, 200, 0.3F);
  const std::string bytes = readFile(folder / "whole.png", 1 << 20);
  writeFileAtomically(folder / "cut.png", bytes.substr(0, bytes.size() / 2));
  writeFileAtomically(folder / "text.png", "this is no picture");
  for (const char* name : {"cut.png", "text.png", "none.png"}) {
    const FileRef file = readSceneFile(FileKind::Picture, name, folder.path(), test::reader());
    EXPECT_FALSE(file.content) << name;
    EXPECT_NE(file.problem.find(name), std::string::npos) << file.problem;
  }
}

TEST(SceneFiles, APictureOf30000PixelsIsRefusedBeforeItIsRead) {
  const test::TemporaryFolder folder;
  // The head of a PNG of 30000 × 30000 pixels: a kilobyte of file that promises gigabytes.
  writeGrey(folder / "small.png", 4, 4, 0.5F);
  std::string bytes = readFile(folder / "small.png", 1 << 20);
  const std::string size("\x00\x00\x75\x30", 4);
  bytes.replace(16, 4, size);
  bytes.replace(20, 4, size);
  // The head's checksum.
  std::uint32_t crc = 0xFFFFFFFFU;
  for (std::size_t i = 12; i < 29; ++i) {
    crc ^= static_cast<unsigned char>(bytes[i]);
    for (int bit = 0; bit < 8; ++bit) crc = crc & 1 ? crc >> 1 ^ 0xEDB88320U : crc >> 1;
  }
  crc = ~crc;
  for (int i = 0; i < 4; ++i)
    bytes[29 + static_cast<std::size_t>(i)] = static_cast<char>(crc >> (24 - 8 * i));
  writeFileAtomically(folder / "huge.png", bytes);
  const FileRef file = readSceneFile(FileKind::Picture, "huge.png", folder.path(), test::reader());
  EXPECT_NE(file.problem.find("30000 × 30000"), std::string::npos) << file.problem;
}

TEST(SceneFiles, SequencesFollowTheFramesAndStartAgain) {
  const test::TemporaryFolder folder;
  for (int i = 1; i <= 3; ++i)
    writeGrey(folder / ("s." + std::to_string(i + 8) + ".png"), 2, 2, static_cast<float>(i) / 4);
  writeGrey(folder / "s.other.png", 2, 2, 1);
  const FileRef file = readSceneFile(FileKind::Picture, "s.#.png", folder.path(), test::reader());
  const auto content = std::dynamic_pointer_cast<const PictureContent>(file.content);
  ASSERT_TRUE(content) << file.problem;
  ASSERT_EQ(content->count(), 3);
  for (const auto& [frame, index] :
       std::vector<std::pair<int, int>>{{1, 1}, {2, 2}, {3, 3}, {4, 1}, {0, 3}, {-1, 2}})
    EXPECT_NEAR(content->at(frame)->at(0, 0).x, index / 4.0, 0.01) << frame;
}

TEST(SceneFiles, ABrokenOrWrongPictureOfASequenceIsNamed) {
  const test::TemporaryFolder folder;
  for (int i = 1; i <= 3; ++i) writeGrey(folder / ("s." + std::to_string(i) + ".png"), 2, 2, 0.5F);
  writeFileAtomically(folder / "s.2.png", "this is no picture");
  writeGrey(folder / "s.3.png", 3, 2, 0.5F);
  const FileRef file = readSceneFile(FileKind::Picture, "s.#.png", folder.path(), test::reader());
  const auto content = std::dynamic_pointer_cast<const PictureContent>(file.content);
  ASSERT_TRUE(content) << file.problem;
  EXPECT_EQ(content->problem(), "");
  EXPECT_EQ(content->at(3), content->at(1));
  EXPECT_NE(content->problem().find("s.3.png: is 3 × 2 pixels"), std::string::npos) << content->problem();
  // The first that was wanted is named; a check of the whole begins at the beginning.
  const Scene scene = withFilesRead(with(starting(), {"emitter.sprite=picture", "emitter.picture=s.#.png"}),
                                    folder.path(), test::reader());
  EXPECT_TRUE(missingFiles(scene).empty());
  readWholeSequences(scene, {});
  ASSERT_EQ(missingFiles(scene).size(), 1U);
  EXPECT_NE(missingFiles(scene)[0].message.find("s.2.png"), std::string::npos)
      << missingFiles(scene)[0].message;
}

TEST(SceneFiles, ColoursAreDecodedBeforeAlphaIsMultiplied) {
  const test::TemporaryFolder folder;
  Picture stored(1, 1);
  stored.at(0, 0) = Vec4(0.5, 0.25, 1, 0.5);
  writePicture(folder / "a.png", stored, PictureFormat::Png16, PictureChannels::Rgba);
  const Vec4 read = test::readPicture(folder / "a.png").at(0, 0);
  EXPECT_NEAR(read.x, 0.25, 1e-3);
  EXPECT_NEAR(read.y, 0.125, 1e-3);
  EXPECT_NEAR(read.w, 0.5, 1e-3);
  writePicture(folder / "a.exr", stored, PictureFormat::ExrHalf, PictureChannels::Rgba);
  EXPECT_EQ(test::readPicture(folder / "a.exr").at(0, 0), stored.at(0, 0));
}

TEST(SceneFiles, EveryDemoFindsItsFiles) {
  ASSERT_GE(demos().size(), 7U);
  for (const Demo& demo : demos()) {
    const Scene scene = openDemo(demo.name);
    EXPECT_TRUE(missingFiles(scene).empty()) << demo.name;
    const SceneFramePtr frame = test::simulate(atPreviewResolution(scene), 30);
    std::size_t shown = frame->particles->count();
    for (const HeldGas& held : frame->gases->gases) shown += held.content->filled();
    EXPECT_GT(shown, 0U) << demo.name;
    for (const Scene::ItemPtr& item : scene.items())
      EXPECT_FALSE(item->unknownFields) << demo.name << " " << item->name;
  }
  EXPECT_THROW((void)openDemo("no such demo"), Error);
}

TEST(SceneFiles, EveryDemoFileIsUsed) {
  for (const DemoFile& file : demoFiles()) {
    if (std::find(kBasicShapes.begin(), kBasicShapes.end(), file.name) != kBasicShapes.end()) continue;
    int uses = 0;
    for (const Demo& demo : demos())
      uses +=
          demo.sceneText.find(std::string(kSamplePrefix) + std::string(file.name)) != std::string_view::npos
              ? 1
              : 0;
    EXPECT_GT(uses, 0) << file.name;
  }
}

TEST(SceneFiles, PathsBecomeRelativeInTheScenesFolder) {
  EXPECT_EQ(pathFrom("/a/b", "/a/b/c/d.png"), "c/d.png");
  EXPECT_EQ(pathFrom("/a/b", "/a/d.png"), "/a/d.png");
  EXPECT_EQ(pathFrom("/a/b", "sample:d.png"), "sample:d.png");
  EXPECT_EQ(pathFrom("", "/a/d.png"), "/a/d.png");
}

}  // namespace
}  // namespace comet
