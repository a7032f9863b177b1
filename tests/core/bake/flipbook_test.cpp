#include "bake/cell_paint.h"
#include "bake/checks/bake_check.h"
#include "bake/flipbook_file.h"
#include "base/error.h"
#include "base/file.h"
#include "simulation/gas/gas_edits.h"
#include "support/files.h"
#include "support/read.h"
#include "support/scenes.h"

#include <OpenImageIO/imageio.h>
#include <gmock/gmock.h>
#include <nlohmann/json.hpp>
#include <thread>

namespace comet {
namespace {

using test::starting;
using test::with;

SceneRun runOf(const Scene& scene) { return {scene, test::roomyCache()}; }

FlipbookLayout layoutOf(const Scene& scene) { return flipbookLayout(scene, *scene.findByName("flipbook")); }

std::vector<int> framesIn(const FlipbookLayout& layout) {
  std::vector<int> frames;
  for (const CellPlan& cell : layout.cells) frames.push_back(cell.frame);
  return frames;
}

Scene smallBake() {
  return with(starting(), {"flipbook.cell_width=48", "flipbook.cell_height=32", "flipbook.padding=3",
                           "flipbook.columns=4", "flipbook.rows=3", "flipbook.first=4", "flipbook.step=2",
                           "flipbook.last=24", "emitter.size=1"});
}

TEST(Flipbook, LayoutListsItsFrames) {
  const FlipbookLayout layout = layoutOf(smallBake());
  EXPECT_THAT(framesIn(layout), testing::ElementsAre(4, 6, 8, 10, 12, 14, 16, 18, 20, 22, 24));
  EXPECT_EQ(layout.width(), 4 * 54);
  EXPECT_EQ(layout.height(), 3 * 38);
  EXPECT_EQ(layout.cellX(5), 54 + 3);
  EXPECT_EQ(layout.cellY(5), 38 + 3);
  EXPECT_EQ(layout.framesPerSecond, 12);
}

TEST(Flipbook, EvenTimeFillsTheCells) {
  const FlipbookLayout layout =
      layoutOf(with(smallBake(), {"flipbook.frame_choice=time", "flipbook.last=26"}));
  EXPECT_THAT(framesIn(layout), testing::ElementsAre(4, 6, 8, 10, 12, 14, 16, 18, 20, 22, 24, 26));
  EXPECT_NEAR(layout.framesPerSecond, 12 / (23.0 / 24), 1e-9);
}

TEST(Flipbook, BackAndForthRepeatsNeitherEnd) {
  const FlipbookLayout layout = layoutOf(with(smallBake(), {"flipbook.loop=ping_pong", "flipbook.last=10"}));
  EXPECT_THAT(framesIn(layout), testing::ElementsAre(4, 6, 8, 10, 8, 6));
  std::vector<int> nexts;
  for (const CellPlan& cell : layout.cells) nexts.push_back(cell.next);
  EXPECT_THAT(nexts, testing::ElementsAre(6, 8, 10, 8, 6, 4));
}

TEST(Flipbook, ACrossFadeLeadsToTheFirstFrame) {
  const FlipbookLayout layout = layoutOf(with(smallBake(), {"flipbook.loop=cross_fade", "flipbook.first=20",
                                                            "flipbook.last=30", "flipbook.overlap=2"}));
  ASSERT_EQ(layout.cells.size(), 6U);
  EXPECT_EQ(layout.cells[3].fadedFraction, 0);
  // Twelve frames a round: after the last one, 30, the next would be 32, which the first one, 20, stands for.
  EXPECT_EQ(layout.cells[4].fadesTo, 28 - 12);
  EXPECT_EQ(layout.cells[5].fadesTo, 30 - 12);
  EXPECT_NEAR(layout.cells[4].fadedFraction, 1 / 3.0, 1e-12);
  EXPECT_NEAR(layout.cells[5].fadedFraction, 2 / 3.0, 1e-12);
}

TEST(Flipbook, TheBestLoopFillsItsCellsWithFramesOfTheRange) {
  // A jet that is turned on and off every 20 frames.
  const Scene scene =
      with(smallBake(),
           {"flipbook.loop=cross_fade", "flipbook.find_loop=true", "flipbook.first=1", "flipbook.last=70",
            "flipbook.frame_choice=time", "flipbook.overlap=3", "emitter.rate=0", "emitter.lifetime=0.4",
            "emitter.speed=3", R"(emitter.bursts=[{"frame":3,"count":60,"every":20,"times":5}])"});
  SceneRun run = runOf(scene);
  const Flipbook book = bakeFlipbook(run, layoutOf(scene), Progress());
  ASSERT_EQ(book.cells.size(), 12U);
  EXPECT_EQ(book.layout.lastFrame - book.layout.firstFrame + 1, 40) << "two rounds, the longest that fit";
  EXPECT_GE(book.layout.firstFrame, 1 + 10);
  EXPECT_LE(book.layout.lastFrame, 70);
  for (std::size_t i = 9; i < 12; ++i)
    EXPECT_EQ(book.layout.cells[i].frame - book.layout.cells[i].fadesTo, 40);
}

TEST(Flipbook, ALoopToFindNeedsFramesToChooseFrom) {
  const auto layout = [](const char* last) {
    return layoutOf(
        with(smallBake(), {"flipbook.loop=cross_fade", "flipbook.find_loop=true", "flipbook.first=1",
                           std::string("flipbook.last=") + last, "flipbook.step=2", "flipbook.overlap=3"}));
  };
  // Twelve cells of two frames, and three that fade in.
  EXPECT_EQ(layout("30").cells.size(), 12U);
  try {
    layout("29");
    FAIL() << "too few frames are accepted";
  } catch (const Error& error) {
    EXPECT_NE(std::string(error.what()).find("Raise the last frame by 1"), std::string::npos) << error.what();
  }
}

TEST(Flipbook, ACrossFadeKeepsTheLight) {
  const Scene scene = with(
      smallBake(), {"flipbook.loop=cross_fade", "flipbook.first=60", "flipbook.last=80", "emitter.rate=200"});
  SceneRun run = runOf(scene);
  const Flipbook book = bakeFlipbook(run, layoutOf(scene), Progress());
  double min = 1e9, max = 0;
  for (const CellFacts& cell : book.cells) {
    min = std::min(min, cell.energy);
    max = std::max(max, cell.energy);
  }
  EXPECT_GT(min, 0.85 * max) << "a steady effect stays as bright while it fades";
}

TEST(Flipbook, DullEndsAreTrimmedByWhatIsSeen) {
  // Nothing before the burst at frame 8, and nothing after its life of half a second.
  const Scene scene = with(smallBake(), {"emitter.rate=0", R"(emitter.bursts=[{"frame":8,"count":40}])",
                                         "emitter.lifetime=0.5", "flipbook.trim=true", "flipbook.last=60",
                                         "flipbook.step=1", "flipbook.rows=4", "emitter.opacity=100"});
  SceneRun run = runOf(scene);
  const Flipbook book = bakeFlipbook(run, layoutOf(scene), Progress());
  EXPECT_GE(book.layout.cells.front().frame, 8);
  EXPECT_LE(book.layout.cells.back().frame, 20);
  EXPECT_GT(book.layout.cells.size(), 6U);
  EXPECT_EQ(book.layout.firstFrame, book.layout.cells.front().frame);
}

TEST(Flipbook, EvenMotionTakesMoreCellsWhereMoreHappens) {
  // Fast at first, then held back.
  Scene scene =
      with(test::oneBurst(200),
           {"emitter.cone=60", "emitter.speed=12", "emitter.size=0.4", "flipbook.frame_choice=motion",
            "flipbook.first=1", "flipbook.last=60", "flipbook.cell_width=48", "flipbook.cell_height=48"});
  scene = test::withInfluence(scene, "drag", {"drag.rate=6"});
  SceneRun run = runOf(scene);
  const Flipbook even = bakeFlipbook(run, layoutOf(scene), Progress());
  ASSERT_EQ(even.layout.cells.size(), 16U);
  int early = 0;
  for (const CellPlan& cell : even.layout.cells) early += cell.frame <= 15 ? 1 : 0;
  EXPECT_GT(early, 8);
  EXPECT_THAT(framesIn(even.layout), testing::WhenSorted(testing::ElementsAreArray(framesIn(even.layout))));
}

TEST(Flipbook, EmittersCanBeLeftOut) {
  Scene scene = smallBake();
  Item other = *scene.findByName("emitter");
  other.name = "other";
  scene = with(scene.withDuplicate(other.id, other), {"other.position=2,0,0", "other.seed=9"});
  const auto sheetOf = [](const Scene& baked) {
    SceneRun run = runOf(baked);
    return bakeFlipbook(run, layoutOf(baked), Progress()).color;
  };
  const ItemId bake = scene.findByName("flipbook")->id;
  const Picture both = sheetOf(scene);
  const Picture one = sheetOf(scene.withResponse(scene.findByName("other")->id, bake, {std::nullopt}));
  EXPECT_FALSE(both == one);
  EXPECT_TRUE(one == sheetOf(scene.withEnabled(scene.findByName("other")->id, false)));
}

TEST(Flipbook, AViewOfItsOwnIsNotTheCameras) {
  const Scene scene = with(smallBake(), {"flipbook.view=own", "flipbook.position=0,1,30",
                                         "flipbook.aim=0,1,0", "flipbook.height=5", "camera.position=3,3,3"});
  const Camera view = bakeView(scene, *scene.findByName("flipbook"), 1);
  EXPECT_EQ(view.projection, Camera::Projection::Orthographic);
  EXPECT_EQ(view.place, Vec3d(0, 1, 30));
  EXPECT_EQ(view.height, 5);
}

TEST(Flipbook, AllOfTheSceneFollowsTheScene) {
  const auto rangeOf = [](const Scene& scene) {
    const FlipbookLayout layout = flipbookLayout(scene, *scene.findByName("flipbook"));
    return std::pair(layout.cells.front().frame, layout.cells.back().frame);
  };
  EXPECT_EQ(rangeOf(startingScene()), std::pair(1, 96));
  EXPECT_EQ(rangeOf(with(startingScene(), {"scene.last_frame=400"})), std::pair(1, 400));
}

TEST(Flipbook, AlphaIsChosenByWhatEveryReaderShows) {
  const auto alphaOf = [](const Scene& scene) {
    return flipbookLayout(scene, *scene.findByName("flipbook")).alpha;
  };
  const Scene light = with(test::starting(), {"emitter.blend=additive"});
  EXPECT_EQ(alphaOf(test::starting()), AlphaKind::Premultiplied);
  EXPECT_EQ(alphaOf(light), AlphaKind::OnBlack);
  EXPECT_EQ(alphaOf(with(light, {"flipbook.format=exr"})), AlphaKind::Premultiplied);
  EXPECT_EQ(alphaOf(with(light, {"flipbook.alpha=straight"})), AlphaKind::Straight);
  // Smoke beside it covers, unless the bake leaves it out.
  Scene both = light.withAdded(newItem(*catalog().find("emitter"), "smoke"));
  EXPECT_EQ(alphaOf(both), AlphaKind::Premultiplied);
  both = both.withResponse(both.findByName("smoke")->id, both.findByName("flipbook")->id, {std::nullopt});
  EXPECT_EQ(alphaOf(both), AlphaKind::OnBlack);
}

TEST(Flipbook, PixelDensityIsThatOfTheView) {
  const Scene scene = with(smallBake(), {"flipbook.view=own", "flipbook.height=8"});
  EXPECT_DOUBLE_EQ(pixelDensity(scene, *scene.findByName("flipbook"), 1), 32 / 8.0);
  const Scene far = with(scene, {"flipbook.projection=perspective", "flipbook.position=0,2,20",
                                 "flipbook.aim=0,2,0", "flipbook.field_of_view=90"});
  EXPECT_NEAR(pixelDensity(far, *far.findByName("flipbook"), 1), 32 / 40.0, 1e-12) << "40 units high 20 away";
}

TEST(Flipbook, VideoMemoryCountsMipLevels) {
  FlipbookLayout layout;
  layout.columns = layout.rows = 4;
  layout.cellWidth = layout.cellHeight = 128;
  EXPECT_DOUBLE_EQ(videoMemory(layout).plain, 512 * 512 * 4 * 4.0 / 3);
  EXPECT_DOUBLE_EQ(videoMemory(layout).compressed, 512 * 512 * 4.0 / 3);
  layout.alpha = AlphaKind::OnBlack;
  EXPECT_DOUBLE_EQ(videoMemory(layout).compressed, 512 * 512 * 0.5 * 4.0 / 3);
}

TEST(Flipbook, DataSheetsSayWhatIsTrueOfTheParticles) {
  // One dot at rest, ten units away, half-way through its life at frame 13.
  const Scene scene = with(
      test::oneBurst(), {"emitter.speed=0", "emitter.lifetime=1", "emitter.size=2", "emitter.position=0,2,0",
                         "flipbook.view=own", "flipbook.first=13", "flipbook.last=13",
                         "flipbook.cell_width=32", "flipbook.cell_height=32", "flipbook.depth_sheet=true",
                         "flipbook.age_sheet=true", "flipbook.columns=1", "flipbook.rows=1"});
  SceneRun run = runOf(scene);
  const Flipbook book = bakeFlipbook(run, layoutOf(scene), Progress());
  EXPECT_NEAR(book.data.at(DataLayer::Depth).values.at(16, 16).x, 10, 1e-4);
  EXPECT_NEAR(book.data.at(DataLayer::Age).values.at(16, 16).x, 0.5, 1e-4);
  EXPECT_NEAR(book.data.at(DataLayer::Depth).values.at(0, 0).x, 10, 1e-4) << "goes on where nothing is seen";
  EXPECT_EQ(book.data.at(DataLayer::Depth).values.at(0, 0).w, 0);
}

TEST(Flipbook, GlowApartAddsUpToTheWhole) {
  const std::initializer_list<std::string> glowing{"flipbook.post_processing=own", "flipbook.glow=true",
                                                   "flipbook.glow_threshold=0", "emitter.brightness=2"};
  const Scene scene = with(smallBake(), glowing);
  SceneRun run = runOf(scene);
  const Picture whole = bakeFlipbook(run, layoutOf(scene), Progress()).color;
  const Flipbook apart =
      bakeFlipbook(run, layoutOf(with(scene, {"flipbook.separate_glow=true"})), Progress());
  SceneRun apartRun = runOf(with(scene, {"flipbook.separate_glow=true"}));
  const Flipbook parts = bakeFlipbook(apartRun, apart.layout, Progress());
  double max = 0;
  for (std::size_t i = 0; i < whole.pixels().size(); ++i) {
    const Vec4 sum = parts.color.pixels()[i] + parts.glow.pixels()[i];
    for (int c = 0; c < 3; ++c) EXPECT_NEAR(sum[c], whole.pixels()[i][c], 1e-4);
    max = std::max(max, static_cast<double>(parts.glow.pixels()[i].x));
  }
  EXPECT_GT(max, 0.05);
}

TEST(Flipbook, FireApartAddsUpToTheWhole) {
  const Scene scene =
      with(withNewFire(smallBake()), {"fire.resolution=20", "flipbook.columns=2", "flipbook.rows=1",
                                      "flipbook.first=10", "flipbook.last=11"});
  const auto bake = [](const Scene& baked) {
    SceneRun run = runOf(baked);
    return bakeFlipbook(run, layoutOf(baked), Progress());
  };
  const Flipbook whole = bake(scene), parts = bake(with(scene, {"flipbook.separate_fire=true"}));
  EXPECT_TRUE(whole.fire.empty());
  double fire = 0, smoke = 0;
  for (std::size_t i = 0; i < whole.color.pixels().size(); ++i) {
    const Vec4 &light = parts.fire.pixels()[i], &rest = parts.color.pixels()[i];
    for (int c = 0; c < 4; ++c) EXPECT_NEAR(light[c] + rest[c], whole.color.pixels()[i][c], 1e-4);
    EXPECT_EQ(light.w, 0) << "fire covers nothing";
    fire = std::max(fire, static_cast<double>(light.x));
    smoke = std::max(smoke, static_cast<double>(rest.w));
  }
  EXPECT_GT(fire, 0.2);
  EXPECT_GT(smoke, 0.05);
  // What is measured and played is what is seen of both.
  for (std::size_t cell = 0; cell < parts.cells.size(); ++cell) {
    EXPECT_NEAR(parts.cells[cell].energy, whole.cells[cell].energy, 1e-4 * whole.cells[cell].energy);
    EXPECT_NEAR(parts.cells[cell].change, whole.cells[cell].change, 1e-4);
    EXPECT_NEAR(seenCell(parts, cell).at(24, 16).x, cellOf(whole.color, whole.layout, cell).at(24, 16).x,
                1e-4);
  }
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
  const Flipbook book = bakeFlipbook(run, layout, Progress());
  const Picture& sheet = book.color;
  Renderer renderer;
  bool anything = false;
  for (std::size_t cell = 0; cell < layout.cells.size(); ++cell) {
    const int frame = layout.cells[cell].frame;
    const Picture picture =
        renderer.draw({scene, *run.frame(frame), {}, cameraOf(scene, frame), {48, 32}, 2});
    for (int y = 0; y < 32; ++y)
      for (int x = 0; x < 48; ++x) {
        ASSERT_EQ(sheet.at(layout.cellX(cell) + x, layout.cellY(cell) + y), picture.at(x, y));
        anything = anything || picture.at(x, y).w > 0.1F;
      }
  }
  EXPECT_TRUE(anything);
  EXPECT_EQ(sheet.at(1, 1), sheet.at(3, 3)) << "padding goes on with the edge";
}

// Looks, lines and solids once for all that is drawn of a frame.
TEST(Flipbook, WhatIsDrawnOfOneFrameIsPreparedOnce) {
  const Scene scene = smallBake();
  SceneRun run = runOf(scene);
  BakeRenderer renderer(run, scene.findByName("flipbook")->id, {48, 32}, 2);
  const Picture color = renderer.color(8, Progress());
  (void)renderer.glow(8, Progress());
  (void)renderer.paint(DepthPaint(), 8, Progress());
  (void)renderer.paint(AgePaint(), 8, Progress());
  EXPECT_EQ(renderer.color(8, Progress()), color) << "no pass leaves anything to the next";
  EXPECT_EQ(renderer.prepared(), 1U);
  (void)renderer.color(10, Progress());
  EXPECT_EQ(renderer.prepared(), 2U);
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
  EXPECT_THROW(bakeFlipbook(run, layoutOf(scene), progress), Error);
}

TEST(Flipbook, OneByOneCellsAreBakedAndChecked) {
  const Scene scene =
      with(smallBake(), {"flipbook.cell_width=1", "flipbook.cell_height=1", "flipbook.motion_vectors=eight",
                         "flipbook.six_way_lighting=true", "flipbook.alpha=straight"});
  SceneRun run = runOf(scene);
  const Flipbook book = bakeFlipbook(run, layoutOf(scene), Progress());
  EXPECT_EQ(book.color.width(), 4 * 7);
  for (const Finding& finding : checkBake(book, scene))
    EXPECT_TRUE(std::isfinite(finding.number)) << finding.check;
  const test::TemporaryFolder folder;
  EXPECT_EQ(writeFlipbook(book, folder.path()).size(), 5U);
}

TEST(Flipbook, SheetsThatNoCardHoldsAreRefused) {
  try {
    (void)layoutOf(with(smallBake(), {"flipbook.columns=200", "flipbook.rows=200", "flipbook.cell_width=1024",
                                      "flipbook.cell_height=1024"}));
    FAIL() << "accepted";
  } catch (const Error& error) {
    EXPECT_THAT(error.problem(), testing::HasSubstr("206000 ×"));
  }
}

TEST(Flipbook, RowsThatDoNotFitOneSheetGoOnTheNext) {
  // Rows are 38 pixels high: two fit 100 pixels, so that three of them take two sheets.
  const Scene scene = with(smallBake(), {"flipbook.columns=2", "flipbook.rows=3", "flipbook.last=14",
                                         "flipbook.max_sheet_size=110", "flipbook.motion_vectors=eight"});
  SceneRun run = runOf(scene);
  const Flipbook book = bakeFlipbook(run, layoutOf(scene), Progress());
  const test::TemporaryFolder folder;
  const auto paths = writeFlipbook(book, folder.path());
  ASSERT_EQ(paths.size(), 5U);
  EXPECT_EQ(paths[1].filename(), "flipbook.2.png");
  const auto json = nlohmann::json::parse(readFile(paths.back(), 1 << 20));
  EXPECT_EQ(json["images"], nlohmann::json({"flipbook.1.png", "flipbook.2.png"}));
  EXPECT_EQ(json["layers"]["motion"]["images"][1], "flipbook.motion.2.png");
  EXPECT_EQ(json["cells"][4]["sheet"], 1);
  EXPECT_EQ(json["cells"][4]["y"], 3);
  const Picture second = test::readPicture(paths[1]);
  EXPECT_EQ(second.height(), 2 * 38);
  EXPECT_EQ(json["height"], 2 * 38);
}

TEST(Flipbook, ChannelsArePackedFromOtherSheets) {
  const Scene scene = with(
      smallBake(), {"flipbook.channel_packing=true", "flipbook.pack_red=alpha", "flipbook.pack_green=age",
                    "flipbook.pack_blue=normal_up", "flipbook.pack_alpha=full"});
  SceneRun run = runOf(scene);
  const Flipbook book = bakeFlipbook(run, layoutOf(scene), Progress());
  const std::vector<FlipbookPart> parts = flipbookParts(book, book.layout);
  ASSERT_EQ(parts.size(), 2U) << "what is only packed has no sheet of its own";
  const auto json = nlohmann::json::parse(describeFlipbook(book, book.layout));
  const auto& channels = json["layers"]["packed"]["channels"];
  for (std::size_t i = 0; i < book.color.pixels().size(); i += 5) {
    const Vec4& packed = wholePicture(parts[1].rows).pixels()[i];
    const auto value = [&](const char* channel, float sample) {
      return (sample - channels[channel]["zero"].get<double>()) * channels[channel]["scale"].get<double>();
    };
    EXPECT_NEAR(value("red", packed.x), book.color.pixels()[i].w, 1e-5);
    EXPECT_NEAR(value("green", packed.y), book.data.at(DataLayer::Age).values.pixels()[i].x, 1e-5);
    EXPECT_NEAR(value("blue", packed.z), book.data.at(DataLayer::Normal).values.pixels()[i].y, 1e-5);
    EXPECT_EQ(packed.w, 1);
  }
  EXPECT_EQ(channels["green"]["holds"], "age");
}

TEST(Flipbook, CellsFollowEachOtherInTheOrderThatIsAsked) {
  const auto cornerOf = [](const char* order, std::size_t cell) {
    const FlipbookLayout layout = layoutOf(with(smallBake(), {std::string("flipbook.order=") + order}));
    return std::pair(layout.cellX(cell) / 54, layout.cellY(cell) / 38);
  };
  EXPECT_EQ(cornerOf("rows_from_top_left", 5), std::pair(1, 1));
  EXPECT_EQ(cornerOf("rows_from_bottom_left", 0), std::pair(0, 2));
  EXPECT_EQ(cornerOf("rows_from_bottom_left", 5), std::pair(1, 1));
  EXPECT_EQ(cornerOf("columns_from_top_left", 5), std::pair(1, 2));
}

TEST(Flipbook, AnOpenExrFileHoldsAllSheetsAsParts) {
  const Scene scene = with(smallBake(), {"flipbook.format=exr_float", "flipbook.motion_vectors=eight",
                                         "flipbook.depth_sheet=true", "flipbook.six_way_lighting=true"});
  SceneRun run = runOf(scene);
  const Flipbook book = bakeFlipbook(run, layoutOf(scene), Progress());
  const test::TemporaryFolder folder;
  const auto paths = writeFlipbook(book, folder.path());
  ASSERT_EQ(paths.size(), 2U) << "one picture, and its description";
  const auto json = nlohmann::json::parse(readFile(paths[1], 1 << 20));
  const auto input = OIIO::ImageInput::open(paths[0].string());
  ASSERT_TRUE(input);
  std::vector<std::string> parts;
  for (int part = 0; input->seek_subimage(part, 0); ++part) {
    const OIIO::ImageSpec spec = input->spec();
    parts.push_back(spec.get_string_attribute("oiio:subimagename"));
    if (parts.back() != "motion") continue;
    EXPECT_THAT(spec.channelnames, testing::ElementsAre("motion.X", "motion.Y", "motion.seen"));
    std::vector<float> values(static_cast<std::size_t>(spec.width) * spec.height * spec.nchannels);
    ASSERT_TRUE(input->read_image(part, 0, 0, spec.nchannels, OIIO::TypeDesc::FLOAT, values.data()));
    const Picture& motion = book.data.at(DataLayer::Motion).values;
    for (std::size_t i = 0; i < motion.pixels().size(); i += 11)
      EXPECT_FLOAT_EQ(values[i * 3 + 1], motion.pixels()[i].y);
  }
  EXPECT_THAT(parts, testing::ElementsAre("color", "motion", "depth", "light_a", "light_b"));
  EXPECT_EQ(json["layers"]["depth"]["part"], "depth");
  EXPECT_EQ(json["layers"]["depth"]["scale"], 1);
}

TEST(Flipbook, ABakeStopsInTheMiddleOfAPicture) {
  // One cell that is large enough to be stopped in: its only report comes before it is drawn.
  const Scene scene = with(smallBake(), {"flipbook.columns=1", "flipbook.rows=1", "flipbook.last=4",
                                         "flipbook.cell_width=512", "flipbook.cell_height=512"});
  SceneRun run = runOf(scene);
  const FlipbookLayout layout = layoutOf(scene);
  (void)run.frame(20);
  int reports = 0;
  Progress* self = nullptr;
  Progress progress([&](int, int) {
    ++reports;
    self->cancel();
  });
  self = &progress;
  EXPECT_THROW(bakeFlipbook(run, layout, progress), Error);
  EXPECT_EQ(reports, 1);
}

TEST(Flipbook, CellsAndAVideoAndAPageAreWrittenOnRequest) {
  const Scene scene =
      with(smallBake(), {"flipbook.image_sequence=true", "flipbook.video=apng", "flipbook.web_player=true"});
  SceneRun run = runOf(scene);
  const Flipbook book = bakeFlipbook(run, layoutOf(scene), Progress());
  const test::TemporaryFolder folder;
  (void)writeFlipbook(book, folder.path());
  EXPECT_EQ(test::readPicture(folder / "flipbook.0011.png").width(), 48);
  EXPECT_FALSE(std::filesystem::exists(folder / "flipbook.0012.png"));
  EXPECT_GT(std::filesystem::file_size(folder / "flipbook.apng"), 1000U);
  const std::string page = readFile(folder / "flipbook.html", 1 << 24);
  EXPECT_THAT(page, testing::HasSubstr("\"frames_per_second\": 12"));
  EXPECT_THAT(page, testing::Not(testing::HasSubstr("@")));
  EXPECT_THAT(page, testing::Not(testing::HasSubstr("http"))) << "it needs nothing from elsewhere";
}

TEST(Flipbook, WritingTellsHowFarItIsAndCanBeStopped) {
  const Scene scene = with(smallBake(), {"flipbook.image_sequence=true", "flipbook.motion_vectors=eight",
                                         "flipbook.depth_sheet=true", "flipbook.video=apng"});
  SceneRun run = runOf(scene);
  const Flipbook book = bakeFlipbook(run, layoutOf(scene), Progress());
  const test::TemporaryFolder folder;
  const std::thread::id caller = std::this_thread::get_id();
  int before = 0, reports = 0;
  const auto paths = writeFlipbook(book, folder.path(), Progress([&](int done, int total) {
                                     EXPECT_EQ(std::this_thread::get_id(), caller);
                                     EXPECT_GT(done, before);
                                     EXPECT_LE(done, total);
                                     before = done;
                                     ++reports;
                                   }));
  EXPECT_GT(reports, 2);
  EXPECT_EQ(paths.size(), 3U + 11 + 1 + 1);
  for (const auto& path : paths) EXPECT_TRUE(std::filesystem::exists(path)) << path;

  const test::TemporaryFolder other;
  Progress* self = nullptr;
  Progress stopped([&](int, int) { self->cancel(); });
  self = &stopped;
  try {
    (void)writeFlipbook(book, other.path(), stopped);
    FAIL() << "it was not stopped";
  } catch (const Error& error) {
    EXPECT_EQ(error.kind(), ErrorKind::Cancelled);
  }
  EXPECT_TRUE(std::filesystem::is_empty(other.path()));
}

TEST(Flipbook, AFolderThatVanishesLeavesNoHalfFlipbook) {
  const Scene scene = smallBake();
  SceneRun run = runOf(scene);
  const Flipbook book = bakeFlipbook(run, layoutOf(scene), Progress());
  const test::TemporaryFolder folder;
  writeFileAtomically(folder / "file", "in the way");
  EXPECT_THROW(writeFlipbook(book, folder / "file"), Error);
  EXPECT_EQ(readFile(folder / "file", 100), "in the way");
}

TEST(Flipbook, MotionIsStoredSoThatRestIsExact) {
  for (const MotionBits bits : {MotionBits::Eight, MotionBits::Sixteen}) {
    const MotionCode code = motionCode(bits);
    const double steps = bits == MotionBits::Eight ? 255 : 65535;
    EXPECT_DOUBLE_EQ(code.zero * steps, std::round(code.zero * steps)) << "zero is a step";
    EXPECT_GE(code.zero - code.perRange, 0);
    EXPECT_LE(code.zero + code.perRange, 1 + 1e-12);
  }
}

TEST(Flipbook, StoredMotionIsWhatTheDescriptionSays) {
  const Scene scene = with(smallBake(), {"flipbook.motion_vectors=sixteen"});
  SceneRun run = runOf(scene);
  const Flipbook book = bakeFlipbook(run, layoutOf(scene), Progress());
  const test::TemporaryFolder folder;
  const auto paths = writeFlipbook(book, folder.path());
  const auto json = nlohmann::json::parse(readFile(paths.back(), 1 << 20));
  const auto& layer = json["layers"]["motion"];
  const auto input = OIIO::ImageInput::open((folder / std::string(layer["image"])).string());
  ASSERT_TRUE(input);
  const OIIO::ImageSpec& spec = input->spec();
  std::vector<float> samples(static_cast<std::size_t>(spec.width) * spec.height * spec.nchannels);
  ASSERT_TRUE(input->read_image(0, 0, 0, spec.nchannels, OIIO::TypeDesc::FLOAT, samples.data()));
  const double zero = layer["zero"], scale = layer["scale"];
  for (std::size_t i = 0; i < book.color.pixels().size(); i += 7) {
    const Vec4& value = book.data.at(DataLayer::Motion).values.pixels()[i];
    EXPECT_NEAR((samples[i * 3] - zero) * scale, value.x, 2 * scale / 65535);
    EXPECT_NEAR((samples[i * 3 + 1] - zero) * scale, value.y, 2 * scale / 65535);
  }
}

// Every combination of file and alpha, opened again by the image library.
class FlipbookFile : public testing::TestWithParam<std::tuple<const char*, const char*>> {};

TEST_P(FlipbookFile, HoldsWhatItsDescriptionSays) {
  const auto [format, alpha] = GetParam();
  const Scene scene =
      with(smallBake(), {std::string("flipbook.format=") + format, std::string("flipbook.alpha=") + alpha});
  const FlipbookLayout layout = layoutOf(scene);
  SceneRun run = runOf(scene);
  const Flipbook book = bakeFlipbook(run, layout, Progress());
  const Picture& sheet = book.color;
  const test::TemporaryFolder folder;
  const auto paths = writeFlipbook(book, folder / "made");
  const auto json = nlohmann::json::parse(readFile(paths[1], 1 << 20));

  OIIO::ImageSpec asStored;
  asStored.attribute("oiio:UnassociatedAlpha", 1);
  const auto input =
      OIIO::ImageInput::open((folder / "made" / std::string(json["image"])).string(), &asStored);
  ASSERT_TRUE(input);
  const OIIO::ImageSpec& spec = input->spec();
  EXPECT_EQ(spec.width, json["width"]);
  EXPECT_EQ(spec.height, json["height"]);
  EXPECT_EQ(spec.nchannels, json["alpha"] == "opacity" ? 1 : json["alpha"] == "on_black" ? 3 : 4);
  EXPECT_EQ(spec.format.c_str(), std::string(json["sample_type"]));
  const bool linear = isFloat(layout.format) || layout.alpha == AlphaKind::Opacity;
  EXPECT_EQ(json["color_space"], linear ? "linear" : "srgb");
  std::vector<float> pixels(static_cast<std::size_t>(spec.width * spec.height * spec.nchannels));
  ASSERT_TRUE(input->read_image(0, 0, 0, spec.nchannels, OIIO::TypeDesc::FLOAT, pixels.data()));

  const Picture expected = withAlphaKind(sheet, layout);
  const std::string type = json["sample_type"];
  const double tolerance = type == "float"   ? 1e-6
                           : type == "half"  ? 2e-3
                           : type == "uint8" ? 0.51 / 255
                                             : 0.51 / 65535 + 1e-6;
  for (int y = 0; y < spec.height; ++y)
    for (int x = 0; x < spec.width; ++x)
      for (int c = 0; c < spec.nchannels; ++c) {
        const double value = expected.at(x, y)[c];
        const double encoded = linear || c == 3 ? value : encodeSrgb(value);
        const double stored = isFloat(layout.format) ? encoded : std::clamp(encoded, 0.0, 1.0);
        ASSERT_NEAR(pixels[static_cast<std::size_t>((y * spec.width + x) * spec.nchannels + c)], stored,
                    tolerance);
      }
  EXPECT_EQ(json["cells"].size(), layout.cells.size());
  EXPECT_EQ(json["cells"][5]["x"], layout.cellX(5));
  EXPECT_EQ(json["cells"][5]["frame"], layout.cells[5].frame);
}

INSTANTIATE_TEST_SUITE_P(
    All, FlipbookFile,
    testing::Combine(testing::Values("png8", "png16", "tga", "tiff16", "exr", "exr_float"),
                     testing::Values("premultiplied", "straight", "on_black", "opacity")),
    [](const auto& made) { return std::string(std::get<0>(made.param)) + "_" + std::get<1>(made.param); });

}  // namespace
}  // namespace comet
