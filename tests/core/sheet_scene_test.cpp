// Flipbooks in use: exported for real, and played by the scene that is made of their description.
#include "sheet_scene.h"

#include "bake/flipbook_file.h"
#include "base/error.h"
#include "base/file.h"
#include "io/picture_content.h"
#include "render/renderer.h"
#include "scene/scene_file.h"
#include "scene_files.h"
#include "support/files.h"
#include "support/reader.h"
#include "support/scenes.h"

#include <algorithm>
#include <set>

namespace comet {
namespace {

using test::with;

class SheetInUse : public ::testing::Test {
 protected:
  // Bakes and exports; returns the description's path.
  std::filesystem::path exported(std::initializer_list<std::string> assignments) const {
    Scene scene = with(test::oneBurst(40),
                       {"emitter.cone=180", "emitter.speed=1", "emitter.size=0.8", "flipbook.columns=3",
                        "flipbook.rows=2", "flipbook.frame_range=own", "flipbook.first=3", "flipbook.last=8",
                        "flipbook.step=1", "flipbook.cell_width=32", "flipbook.cell_height=32",
                        "flipbook.padding=3", "camera.aim=0,0,0", "camera.position=0,0,10"});
    scene = with(scene, assignments);
    SceneRun run(scene, test::roomyCache());
    const Item& bake = *scene.findByName("flipbook");
    return writeFlipbook(bakeFlipbook(run, flipbookLayout(scene, bake), {}), folder_.path()).back();
  }
  Scene used(std::initializer_list<std::string> assignments) const {
    return sceneOfSheet(exported(assignments), test::reader());
  }
  std::string problemWith(const std::string& text) const {
    writeFileAtomically(folder_ / "bad.json", text);
    try {
      static_cast<void>(sceneOfSheet(folder_ / "bad.json", test::reader()));
    } catch (const Error& error) {
      EXPECT_EQ(error.kind(), ErrorKind::Input);
      return error.what();
    }
    return {};
  }
  test::TemporaryFolder folder_;
};

const Item& player(const Scene& scene) { return *scene.itemsOf(ItemFamily::Emitter).front(); }

TEST_F(SheetInUse, PlaysAllCellsOverLifeInAFileThatCanBeSavedAndOpened) {
  const Scene scene = used({});
  EXPECT_TRUE(missingFiles(scene).empty());
  const Item& emitter = player(scene);
  EXPECT_TRUE(emitter.chooses("sprite", "flipbook"));
  EXPECT_TRUE(emitter.chooses("flipbook_play_mode", "life"));
  EXPECT_EQ(emitter.number("flipbook_columns", 1), 3);
  EXPECT_EQ(emitter.number("flipbook_padding", 1), 3);
  EXPECT_NEAR(emitter.number("lifetime", 1), 6 / test::kFrameRate, 0.01) << "as long as playing it takes";
  writeScene(folder_ / "use.comet", scene);
  const Scene again = openScene(folder_ / "use.comet", test::reader());
  EXPECT_TRUE(missingFiles(again).empty());
  EXPECT_EQ(player(again).value("lifetime"), emitter.value("lifetime"));
  // It is seen, and the light that follows it lies on the ground.
  const SceneFramePtr frame = test::simulate(again, 20);
  EXPECT_GT(frame->particles->groups.front().particles.size(), 3U);
  const Item& light = *again.itemsOf(ItemFamily::Light).front();
  EXPECT_EQ(light.reference("follow"), player(again).id);
  EXPECT_GT(light.number("flicker", 1), 0);
}

TEST_F(SheetInUse, IsRotatedAtRandomOnlyWhereNothingIsLost) {
  // A burst to all sides, and one that flies up from the lower edge.
  EXPECT_EQ(player(used({})).value("sprite_rotation").variation, 180);
  EXPECT_EQ(player(used({"emitter.cone=5", "emitter.speed=9"})).value("sprite_rotation").variation, 0);
}

TEST_F(SheetInUse, AddsWhatOnlyShinesAndLightsTheRest) {
  const Scene smoke = used({R"(emitter.color=[{"at":0,"color":[0.1,0.2,0.4]}])"});
  EXPECT_TRUE(player(smoke).chooses("blend", "normal"));
  EXPECT_TRUE(player(smoke).flag("lit"));
  const Scene sparks = used({"emitter.blend=additive", "emitter.brightness=0.01", "flipbook.format=png16",
                             R"(emitter.color=[{"at":0,"color":[1,0.5,0.25]}])"});
  EXPECT_TRUE(player(sparks).chooses("blend", "additive"));
  EXPECT_FALSE(player(sparks).flag("lit"));
  const Vec3d hue = sparks.itemsOf(ItemFamily::Light).front()->vector("color", 1);
  EXPECT_NEAR(hue.x, 1, 1e-9);
  EXPECT_NEAR(hue.y, 0.5, 0.03);
  EXPECT_NEAR(hue.z, 0.25, 0.03);
}

TEST_F(SheetInUse, LightOfItsOwnIsPlayedByAnEmitterOfItsOwn) {
  const Scene scene = used({"flipbook.separate_glow=true", "camera.glow=true", "emitter.brightness=4"});
  const auto emitters = scene.itemsOf(ItemFamily::Emitter);
  ASSERT_EQ(emitters.size(), 2U);
  EXPECT_EQ(emitters[1]->name, "glow");
  EXPECT_TRUE(emitters[1]->chooses("blend", "additive"));
  EXPECT_TRUE(missingFiles(scene).empty());
  EXPECT_EQ(scene.itemsOf(ItemFamily::Light).front()->reference("follow"), emitters[1]->id);
}

// A sprite that is as large as the picture, still, and plays the sheet in six frames.
Scene oneSpriteOf(const std::filesystem::path& path) {
  Scene scene = sceneOfSheet(path, test::reader());
  for (const ItemFamily family : {ItemFamily::Influence, ItemFamily::Light})
    for (const Scene::ItemPtr& item : scene.itemsOf(family)) scene = scene.withoutItem(item->id);
  const std::string name = player(scene).name;
  const auto of = [&name](const std::string& assignment) { return name + "." + assignment; };
  scene =
      with(scene, {of("rate=0"), of(R"(bursts=[{"frame":1,"count":1}])"), of("speed=0"), of("shape=point"),
                   of("position=0,0,0"), of(R"(size={"value":4,"over_age":[{"at":0,"value":1}]})"),
                   of("sprite_rotation=0"), of("spin=0"), of("lit=false"), of("flipbook_blend=false"),
                   of("lifetime=6"), of(R"(opacity={"value":100,"over_age":[{"at":0,"value":1}]})"),
                   "scene.frame_rate=1", "camera.projection=orthographic", "camera.height=4",
                   "camera.position=0,0,10", "camera.aim=0,0,0"});
  return scene;
}

// What was baked comes back from the sheet: a sprite as large as a cell shows the cell's very pixels, light
// that covers nothing among them.
TEST_F(SheetInUse, ShowsThePixelsThatWereBaked) {
  for (const char* order : {"rows_from_top_left", "rows_from_bottom_left", "columns_from_top_left"}) {
    const auto path = exported({"emitter.blend=screen", "flipbook.alpha=premultiplied",
                                std::string("flipbook.order=") + order, "flipbook.edge_bleed=false"});
    const Scene scene = oneSpriteOf(path);
    const Picture sheet =
        *player(scene).content<PictureContent>("picture")->at(1, StoredAlpha::Premultiplied);
    ASSERT_EQ(sheet.width(), 3 * 38);
    double light = 0;
    for (int frame = 1; frame <= 6; ++frame) {
      const Picture drawn =
          Renderer().draw({scene, *test::simulate(scene, frame), {}, cameraOf(scene, frame), {32, 32}});
      const CellPlace place =
          cellPlace(frame - 1, 3, 2,
                    order[0] == 'c'                                       ? CellOrder::ColumnsFromTop
                    : std::string(order).find("bot") != std::string::npos ? CellOrder::RowsFromBottom
                                                                          : CellOrder::RowsFromTop);
      for (int y = 2; y < 30; ++y)
        for (int x = 2; x < 30; ++x) {
          const Vec4 baked = sheet.at(place.column * 38 + 3 + x, place.row * 38 + 3 + y);
          light += baked.w == 0 ? baked.x : 0;
          for (int c = 0; c < 4; ++c) ASSERT_NEAR(drawn.at(x, y)[c], baked[c], 2e-3) << frame << " " << order;
        }
    }
    EXPECT_GT(light, 1) << "some of it has no alpha";
  }
}

TEST_F(SheetInUse, EachSpritePlaysOneOfTheVariants) {
  Scene scene = oneSpriteOf(exported({"flipbook.variants=seeds", "flipbook.variant_count=3",
                                      "flipbook.alpha=premultiplied", "flipbook.last=5"}));
  const Item& emitter = player(scene);
  EXPECT_EQ(emitter.number("flipbook_rows", 1), 6);
  EXPECT_EQ(emitter.number("flipbook_variants", 1), 3);
  const int each = emitter.integer("flipbook_cells", 1);
  const Picture sheet = *emitter.content<PictureContent>("picture")->at(1, StoredAlpha::Premultiplied);
  const std::string seed = emitter.name + ".seed=";
  std::set<int> played;
  for (int sprite = 0; sprite < 12; ++sprite) {
    scene = with(scene, {seed + std::to_string(sprite)});
    // The last cell before the end of the variant, which is not full.
    const int frame = 6;
    const Picture drawn =
        Renderer().draw({scene, *test::simulate(scene, frame), {}, cameraOf(scene, frame), {32, 32}});
    for (int variant = 0; variant < 3; ++variant) {
      const CellPlace place = cellPlace(variant * 6 + each - 1, 3, 6, CellOrder::RowsFromTop);
      double difference = 0;
      for (int y = 2; y < 30; ++y)
        for (int x = 2; x < 30; ++x)
          difference +=
              glm::length(drawn.at(x, y) - sheet.at(place.column * 38 + 3 + x, place.row * 38 + 3 + y));
      if (difference < 1) played.insert(variant);
    }
  }
  EXPECT_EQ(played.size(), 3U) << "each is played, and shown as it was baked";
}

TEST_F(SheetInUse, SaysWhatIsWrongWithADescription) {
  EXPECT_NE(problemWith("{").find("bad.json: is no description of a flipbook"), std::string::npos);
  EXPECT_NE(problemWith(R"({"format": "something"})").find("describes no flipbook"), std::string::npos);
  EXPECT_NE(problemWith(R"({"format": "tawny-comet-flipbook"})").find("name"), std::string::npos);
  const std::string text =
      readFile(exported({"flipbook.format=exr", "flipbook.separate_glow=true"}), 1 << 20);
  EXPECT_NE(problemWith(text).find("part of an OpenEXR file"), std::string::npos);
  // A sheet that is gone can be found again in the scene.
  const auto path = exported({});
  std::filesystem::remove(folder_ / "flipbook.png");
  const Scene scene = sceneOfSheet(path, test::reader());
  ASSERT_EQ(missingFiles(scene).size(), 1U);
}

}  // namespace
}  // namespace comet
