#include "bake/flipbook.h"

#include "base/error.h"
#include "base/file.h"
#include "support/files.h"
#include "support/scenes.h"

#include <OpenImageIO/imageio.h>
#include <gmock/gmock.h>
#include <nlohmann/json.hpp>

namespace comet {
namespace {

using test::starting;
using test::with;

SceneRun runOf(const Scene& scene) { return {scene, std::make_shared<FrameCache>(std::size_t{1} << 30)}; }

FlipbookLayout layoutOf(const Scene& scene) { return flipbookLayout(scene, *scene.findByName("flipbook")); }

Scene smallBake() {
  return with(starting(), {"flipbook.cell_width=48", "flipbook.cell_height=32", "flipbook.padding=3",
                           "flipbook.columns=4", "flipbook.rows=3", "flipbook.first=4", "flipbook.step=2",
                           "flipbook.last=24", "emitter.size=1"});
}

TEST(Flipbook, LayoutListsItsFrames) {
  const FlipbookLayout layout = layoutOf(smallBake());
  EXPECT_THAT(layout.frames, testing::ElementsAre(4, 6, 8, 10, 12, 14, 16, 18, 20, 22, 24));
  EXPECT_EQ(layout.width(), 4 * 54);
  EXPECT_EQ(layout.height(), 3 * 38);
  EXPECT_EQ(layout.cellX(5), 54 + 3);
  EXPECT_EQ(layout.cellY(5), 38 + 3);
  EXPECT_EQ(layout.framesPerSecond, 12);
}

TEST(Flipbook, ImpossibleLayoutsAreRefusedWithARemedy) {
  const auto remedyFor = [](std::initializer_list<std::string> edits) {
    try {
      (void)layoutOf(with(smallBake(), edits));
    } catch (const Error& error) {
      EXPECT_EQ(error.kind(), ErrorKind::Input);
      return error.remedy();
    }
    return std::string("no error");
  };
  EXPECT_THAT(remedyFor({"flipbook.step=1"}), testing::HasSubstr("columns or rows"));
  EXPECT_THAT(remedyFor({"flipbook.last=1"}), testing::HasSubstr("later last frame"));
  EXPECT_THAT(remedyFor({"flipbook.cell_width=8192"}), testing::HasSubstr("smaller"));
  EXPECT_THAT(remedyFor({"scene.first_frame=10"}), testing::HasSubstr("later first frame"));
}

TEST(Flipbook, CellsAreTheRenderedPicturesPixelForPixel) {
  const Scene scene = smallBake();
  const FlipbookLayout layout = layoutOf(scene);
  SceneRun run = runOf(scene);
  const Picture sheet = bakeSheet(run, layout, Progress());
  Renderer renderer;
  bool anything = false;
  for (std::size_t cell = 0; cell < layout.frames.size(); ++cell) {
    const int frame = layout.frames[cell];
    const Picture picture =
        renderer.drawSupersampled(scene, *run.frame(frame), cameraOf(scene, frame), {48, 32}, 2);
    for (int y = 0; y < 32; ++y)
      for (int x = 0; x < 48; ++x) {
        ASSERT_EQ(sheet.at(layout.cellX(cell) + x, layout.cellY(cell) + y), picture.at(x, y));
        anything = anything || picture.at(x, y).w > 0.1F;
      }
  }
  EXPECT_TRUE(anything);
  EXPECT_EQ(sheet.at(1, 1), Vec4(0.0F)) << "padding is empty";
}

TEST(Flipbook, StraightAlphaGivesBackWhatWasPremultiplied) {
  Picture sheet(2, 1);
  sheet.at(0, 0) = Vec4(0.2F, 0.1F, 0.05F, 0.4F);
  sheet.at(1, 0) = Vec4(0.5F, 0.25F, 0, 0);  // light alone, as additive sprites leave it
  const Picture straight = withAlphaKind(sheet, AlphaKind::Straight);
  for (int x = 0; x < 2; ++x)
    for (int i = 0; i < 3; ++i)
      EXPECT_NEAR(straight.at(x, 0)[i] * straight.at(x, 0).w, sheet.at(x, 0)[i], 1e-6);
  EXPECT_FLOAT_EQ(straight.at(0, 0).w, 0.4F);
  EXPECT_FLOAT_EQ(straight.at(1, 0).w, 0.5F);
}

TEST(Flipbook, CancelledBakeWritesNothing) {
  const Scene scene = smallBake();
  SceneRun run = runOf(scene);
  Progress progress;
  progress.cancel();
  EXPECT_THROW(bakeSheet(run, layoutOf(scene), progress), Error);
}

// Every combination of file and alpha, opened again by the image library.
class FlipbookFile : public testing::TestWithParam<std::tuple<const char*, const char*>> {};

TEST_P(FlipbookFile, HoldsWhatItsDescriptionSays) {
  const auto [format, alpha] = GetParam();
  const Scene scene =
      with(smallBake(), {std::string("flipbook.format=") + format, std::string("flipbook.alpha=") + alpha});
  const FlipbookLayout layout = layoutOf(scene);
  SceneRun run = runOf(scene);
  const Picture sheet = bakeSheet(run, layout, Progress());
  const test::TemporaryFolder folder;
  const auto paths = writeFlipbook(sheet, layout, folder / "made");
  const auto json = nlohmann::json::parse(readFile(paths[1], 1 << 20));

  OIIO::ImageSpec asStored;
  asStored.attribute("oiio:UnassociatedAlpha", 1);
  const auto input =
      OIIO::ImageInput::open((folder / "made" / std::string(json["image"])).string(), &asStored);
  ASSERT_TRUE(input);
  const OIIO::ImageSpec& spec = input->spec();
  EXPECT_EQ(spec.width, json["width"]);
  EXPECT_EQ(spec.height, json["height"]);
  EXPECT_EQ(spec.nchannels, json["alpha"] == "on_black" ? 3 : 4);
  EXPECT_EQ(spec.format.c_str(), std::string(json["sample_type"]));
  EXPECT_EQ(json["color_space"], std::string(format) == "exr" ? "linear" : "srgb");
  std::vector<float> pixels(static_cast<std::size_t>(spec.width * spec.height * spec.nchannels));
  ASSERT_TRUE(input->read_image(0, 0, 0, spec.nchannels, OIIO::TypeDesc::FLOAT, pixels.data()));

  const Picture expected = withAlphaKind(sheet, layout.alpha);
  const bool linear = std::string(format) == "exr";
  const double tolerance = linear ? 2e-3 : std::string(format) == "png8" ? 0.51 / 255 : 0.51 / 65535 + 1e-6;
  for (int y = 0; y < spec.height; ++y)
    for (int x = 0; x < spec.width; ++x)
      for (int c = 0; c < spec.nchannels; ++c) {
        const double value = expected.at(x, y)[c];
        const double stored = linear || c == 3 ? value : std::clamp(encodeSrgb(value), 0.0, 1.0);
        ASSERT_NEAR(pixels[static_cast<std::size_t>((y * spec.width + x) * spec.nchannels + c)], stored,
                    tolerance);
      }
  EXPECT_EQ(json["cells"].size(), layout.frames.size());
  EXPECT_EQ(json["cells"][5]["x"], layout.cellX(5));
  EXPECT_EQ(json["cells"][5]["frame"], layout.frames[5]);
}

INSTANTIATE_TEST_SUITE_P(All, FlipbookFile,
                         testing::Combine(testing::Values("png8", "png16", "exr"),
                                          testing::Values("premultiplied", "straight", "on_black")),
                         [](const auto& made) {
                           return std::string(std::get<0>(made.param)) + "_" + std::get<1>(made.param);
                         });

}  // namespace
}  // namespace comet
