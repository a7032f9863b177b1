// Whole jobs, as somebody new would do them: with the mouse, the keyboard and what is on the screen.
#include "window/driver.h"

#include <QDir>
#include <QThread>
#include <fstream>

namespace comet::test {
namespace {

class Jobs : public WindowTest {
 protected:
  // Drags something and drops it, as slowly as a hand: programs agree on a drop by messages to and fro.
  void carry(const QPoint& from, const QPoint& to) {
    constexpr int kCarrySteps = 30, kPause = 25;
    desktop_.move(from);
    desktop_.press();
    for (int i = 1; i <= kCarrySteps; ++i) {
      desktop_.move(from + (to - from) * i / kCarrySteps);
      QThread::msleep(kPause);
    }
    QThread::msleep(10 * kPause);
    desktop_.release();
  }
  // Answers the dialog that asks where to save.
  void saveAs(const QString& path) {
    desktop_.key("s", {"Control_L"});
    waitFor([this] { return state()["focus"] == "fileNameEdit"; }, "the dialog asks for a name");
    desktop_.key("a", {"Control_L"});
    desktop_.type(path);
    desktop_.key("Return");
  }
  // Bakes the scene's flipbook and has it written.
  void bakeInto(const QString& out) {
    desktop_.key("F6");
    waitFor([this] { return isShown("bake_folder"); }, "the bake page is shown");
    click("bake_folder");
    desktop_.key("a", {"Control_L"});
    desktop_.type(out);
    desktop_.key("Tab");
    click("bake_start");
    waitFor([this] { return widget("bake_write")["enabled"] == true; }, "the flipbook is baked");
    click("bake_write");
  }
  Json readJson(const QString& path) {
    std::ifstream file(path.toStdString());
    return Json::parse(file, nullptr, false);
  }
  static Json itemOf(const Json& saved, const std::string& name) {
    for (const Json& each : saved["items"])
      if (each["name"] == name) return each;
    return nullptr;
  }
};

TEST_F(Jobs, FirstEffect) {
  startNewScene();
  typeInto("inspector/param.rate/value", "60");
  addInfluence("gravity");
  waitFor([this] { return !item("gravity").is_null(); }, "gravity is there");
  const QPoint cell = placeOf({{"of", "cell"}, {"row", 0}, {"column", 0}});
  desktop_.doubleClick(cell);
  desktop_.type("40");
  desktop_.key("Return");
  addInfluence("turb");
  waitFor([this] { return !item("turbulence").is_null(); }, "turbulence is there");
  desktop_.click(placeOf({{"of", "row_head"}, {"row", 0}}));
  click("lane.size");
  click("preset.size.fade_out");
  desktop_.key("space");
  ASSERT_TRUE(comesTrue([this] { return state()["playing"] == true; }));
  waitFor([this] { return state()["frame"] > 20; }, "it plays");
  desktop_.key("space");
  const QString path = folder().filePath("steam.comet");
  saveAs(path);
  ASSERT_TRUE(comesTrue([&] { return QFile::exists(path); }));
  const Json saved = readJson(path);
  EXPECT_EQ(itemOf(saved, "emitter")["params"]["rate"], 60.0);
  EXPECT_EQ(saved["responses"]["emitter"]["gravity"], 40.0);
  EXPECT_FALSE(itemOf(saved, "turbulence").is_null());
  EXPECT_TRUE(comesTrue([this] { return textOf("scene_name") == "steam"; })) << "no change is unsaved";
}

TEST_F(Jobs, BurstWithRule) {
  startNewScene();
  click("add_emitter");
  waitFor([this] { return item("emitter 2").is_object(); }, "another emitter is there");
  desktop_.click(placeOf({{"of", "row_head"}, {"row", 0}}));
  desktop_.key("f", {"Control_L"});
  desktop_.type("rules");
  desktop_.key("Return");
  click("add_rule");
  waitFor([this] { return isShown("inspector/rule0.when0.kind"); }, "the rule is shown");
  click("inspector/rule0.when0.kind");
  chooseInMenu("death");
  click("inspector/rule0.then0.item");
  chooseInMenu("emitter 2");
  typeInto("inspector/rule0.then0.first", "12");
  EXPECT_TRUE(comesTrue([this] {
    return textOf("inspector/rule0.sentence").find("it gives 12 ") != std::string::npos;
  })) << textOf("inspector/rule0.sentence");
  // The child takes births by rules, and gets some.
  EXPECT_TRUE(comesTrue([this] { return param("emitter 2", "birth_trigger") == "rules"; }));
  desktop_.click(placeOf({{"of", "row_head"}, {"row", 1}}));
  waitFor([this] { return state()["simulated"] == true; }, "it is simulated");
  desktop_.key("End");
  EXPECT_TRUE(comesTrue([this] { return state()["frame"] == 96; }));
}

TEST_F(Jobs, APresetIsDroppedKeptAndComparedWithAnEdit) {
  startNewScene();
  click("add_preset");
  waitFor([this] { return state()["focus"] == "preset_search"; }, "presets are searched");
  desktop_.type("torch");
  const QRect tiles = rectOf("preset_tiles");
  // It comes first then; before they are read it has no place but the corner.
  waitFor(
      [&] {
        const QPoint tile = placeOf({{"of", "preset"}, {"name", "torch flame"}});
        return tile != tiles.topLeft() && (tile - tiles.topLeft()).manhattanLength() < 150;
      },
      "it is found");
  const QRect view = rectOf("viewport");
  carry(placeOf({{"of", "preset"}, {"name", "torch flame"}}),
        view.center() + QPoint(view.width() / 6, view.height() / 4));
  waitFor([this] { return item("flame").is_object(); }, "the preset is dropped");
  EXPECT_GT(param("flame", "position")[0], 0.1);
  EXPECT_EQ(scene()["responses"]["emitter"]["flicker"], nullptr) << "nothing else is moved by it";
  desktop_.key("c", {"Shift_L"});
  waitFor([this] { return scene()["snapshots"].size() == 1; }, "a snapshot is kept");
  click("preset_close");
  typeInto("inspector/param.rate/value", "5");
  waitFor([this] { return param("flame", "rate")["value"] == 5.0; }, "the scene is another one");
  desktop_.click(view.topLeft() + QPoint(view.width() / 2, 20));
  desktop_.key("c");
  waitFor([this] { return isShown("compare_mode"); }, "they are compared");
  click("snapshot_more");
  chooseInMenu("Restore");
  EXPECT_TRUE(comesTrue([this] { return param("flame", "rate")["value"] != 5.0; }));
  EXPECT_EQ(scene()["snapshots"].size(), 1U);
}

TEST_F(Jobs, BakeAndWrite) {
  startNewScene();
  const QString out = folder().filePath("out");
  bakeInto(out);
  waitFor([&] { return QFile::exists(out + "/flipbook.png") && QFile::exists(out + "/flipbook.json"); },
          "the files are written");
  const Json description = readJson(out + "/flipbook.json");
  EXPECT_EQ(description["cells"].size(), 16U);
  // Nothing is there yet in the first frame: it is left out.
  EXPECT_GT(description["frame_range"]["first"], 1);
  EXPECT_EQ(description["frame_range"]["last"], 96);
  const QImage sheet(out + "/flipbook.png");
  ASSERT_EQ(sheet.size(), QSize(512, 512));
  // What was baked is tried as a game would use it.
  click("bake_use");
  waitFor([this] { return textOf("scene_name") == "flipbook in use"; }, "the scene is shown");
  EXPECT_EQ(param("flipbook", "sprite"), "flipbook");
  EXPECT_TRUE(comesTrue([this] { return state()["simulated"] == true; }));
}

TEST_F(Jobs, LightThatIsDraggedAndFlickers) {
  startNewScene();
  click("add_light");
  waitFor([this] { return item("light").is_object(); }, "a light is there");
  const Json before = param("light", "position");
  const QPoint handle = placeOf({{"of", "handle"}, {"axis", -1}});
  desktop_.drag(handle, handle + QPoint(60, 40));
  waitFor([&] { return param("light", "position") != before; }, "it is moved");
  typeInto("inspector/param.flicker/value", "50");
  waitFor([this] { return param("light", "flicker") == 50.0; }, "it flickers");
  // Two steps: the number, and the whole drag.
  desktop_.key("z", {"Control_L"});
  waitFor([this] { return param("light", "flicker").is_null() || param("light", "flicker") == 0.0; },
          "steady");
  desktop_.key("z", {"Control_L"});
  EXPECT_TRUE(comesTrue([&] { return param("light", "position") == before; }));
}

TEST_F(Jobs, SmokeFromABoxToASheet) {
  startNewScene();
  click("add_gas");
  waitFor([this] { return item("gas").is_object() && item("source").is_object(); }, "a gas is there");
  typeInto("inspector/param.resolution/value", "24");
  typeInto("inspector/param.buoyancy/value", "30");
  desktop_.click(placeOf({{"of", "row_head"}, {"row", 2}}));
  typeInto("inspector/param.density/value", "14");
  EXPECT_TRUE(comesTrue([this] { return param("source", "density") == 14; }));
  // A click on the smoke, beside the handle above its source, reads it.
  waitFor([this] { return state()["simulated"] == true; }, "it is simulated");
  desktop_.key("End");
  desktop_.click(placeOf({{"of", "handle"}, {"axis", 1}}) + QPoint(16, 20));
  waitFor([this] { return isShown("probe_panel"); }, "the probe reads the smoke");
  click("end_probe");
  waitFor([this] { return !isShown("probe_panel"); }, "the probe is ended");
  // Only the smoke is wanted.
  desktop_.click(placeOf({{"of", "row_head"}, {"row", 0}}));
  desktop_.key("Delete");
  waitFor([this] { return item("emitter").is_null(); }, "the emitter is gone");
  waitFor([this] { return state()["simulated"] == true; }, "it is simulated");
  const QString out = folder().filePath("smoke");
  bakeInto(out);
  waitFor([&] { return QFile::exists(out + "/flipbook.png"); }, "the sheet is written");
  const QImage sheet(out + "/flipbook.png");
  int seen = 0;
  for (int y = 0; y < sheet.height(); ++y)
    for (int x = 0; x < sheet.width(); ++x) seen += qAlpha(sheet.pixel(x, y)) > 100 ? 1 : 0;
  EXPECT_GT(seen, 500) << "there is smoke in it";
}

// Remedies are pressed one after the other without looking: none slips away under the pointer.
TEST_F(Jobs, RemediesStayWhereTheHandExpectsThem) {
  const QString path = folder().filePath("reed.comet");
  std::ofstream(path.toStdString()) << R"({"format":"tawny-comet-scene","version":1,"items":[
      {"kind":"scene","name":"scene","params":{"last_frame":48}},
      {"kind":"emitter","name":"reed","params":{"rate":60}},
      {"kind":"bake","name":"flipbook","params":{"cell_width":48,"cell_height":32,"columns":3,"rows":6,"padding":0}}],
      "responses":{"reed":{"flipbook":null}}})";
  start({path});
  click("page.2");
  click("bake_start");
  waitFor([this] { return isShown("check.not_square/remedy"); }, "the checks are listed");
  const QPoint next = middleOf("check.power_of_two/remedy");
  click("check.not_square/remedy");
  waitFor([this] { return param("flipbook", "cell_height") == 48.0; }, "the cells are square");
  waitFor([this] { return isShown("check.fixed"); }, "the new sheet is shown");
  EXPECT_EQ(middleOf("check.power_of_two/remedy"), next);
  desktop_.click(next);
  waitFor([this] { return param("flipbook", "cell_height") == 64.0; }, "the sheet is a power of two");
  // Elsewhere the list is tidied up.
  desktop_.move(middleOf("bake_start"));
  EXPECT_TRUE(comesTrue([this] { return !isShown("check.fixed") && !isShown("check.power_of_two"); }));
  EXPECT_TRUE(isShown("check.empty")) << "what has not been fixed is still said";
}

}  // namespace
}  // namespace comet::test
