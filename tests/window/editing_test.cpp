// What a hand does all day: typing into fields, choosing from lists, selecting, deleting.
#include "window/driver.h"

#include <fstream>

namespace comet::test {
namespace {

class Editing : public WindowTest {
 protected:
  void startWith(const char* text) {
    const QString path = folder().filePath("scene.comet");
    std::ofstream(path.toStdString()) << text;
    start({path});
    waitFor([this] { return state()["page"] == 1; }, "the scene is shown");
  }
  void stopPlaying() {
    click("play");
    waitFor([this] { return state()["playing"] == false; }, "playing stops");
  }
  void expectParam(const std::string& item, const std::string& name, const Json& value) {
    EXPECT_TRUE(comesTrue([&] { return param(item, name) == value; }))
        << name << " is " << param(item, name).dump();
  }
};

const std::string kRate = "inspector/param.rate/value";

TEST_F(Editing, AFirstDigitThatIsShownAlreadyCounts) {
  startNewScene();
  typeInto(kRate, "3");
  expectParam("emitter", "rate", 3.0);
  click(kRate);
  desktop_.type("3.1");
  desktop_.key("Return");
  expectParam("emitter", "rate", 3.1);
}

TEST_F(Editing, WhatIsNotUnderstoodIsToldAndStays) {
  startNewScene();
  const Json before = param("emitter", "rate");
  for (const char* text : {"10f", "4..", "±"}) {
    typeInto(kRate, QString::fromUtf8(text));
    EXPECT_TRUE(comesTrue([&] {
      return state()["message"].get<std::string>().find("“" + std::string(text) + "” is not a number") == 0;
    })) << text;
    EXPECT_EQ(param("emitter", "rate"), before) << text;
    desktop_.key("Escape");
  }
}

TEST_F(Editing, AVariationIsTypedBehindItsNumber) {
  startNewScene();
  const Json before = scene();
  typeInto(kRate, QString::fromUtf8("40 ± 15"));
  EXPECT_TRUE(comesTrue([this] {
    const Json rate = param("emitter", "rate");
    return rate.is_object() && rate["value"] == 40.0 && rate["variation"] == 15.0;
  })) << param("emitter", "rate").dump();
  undo();
  EXPECT_TRUE(comesTrue([&] { return scene() == before; })) << "it was typed in one go";
  // Or as a range.
  typeInto(kRate, "25..55");
  EXPECT_TRUE(comesTrue([this] {
    const Json rate = param("emitter", "rate");
    return rate.is_object() && rate["value"] == 40.0 && rate["variation"] == 15.0;
  })) << param("emitter", "rate").dump();
}

// A click elsewhere takes what was typed, and lands where it was meant.
TEST_F(Editing, AClickElsewhereEndsTyping) {
  startNewScene();
  const QPoint other = middleOf("inspector/param.seed/value");
  desktop_.doubleClick(middleOf(kRate));
  desktop_.type("77");
  desktop_.click(other);
  expectParam("emitter", "rate", 77.0);
  EXPECT_EQ(state()["focus_parent"], "param.seed");
}

// Another scene has an item of the same number.
TEST_F(Editing, WhatIsBeingTypedIsNotForTheNextScene) {
  startNewScene();
  desktop_.doubleClick(middleOf("inspector/param.rate/value"));
  desktop_.type("33");
  desktop_.key("n", {"Control_L"});
  if (comesTrue([this] { return state()["modal"] == true; }, 1500)) chooseInMenu("Discard");
  waitFor([this] { return state()["can_undo"] == false; }, "another scene is there");
  EXPECT_TRUE(param("emitter", "rate").is_null() || param("emitter", "rate") != 33.0);
  EXPECT_EQ(textOf("scene_name").find("●"), std::string::npos);
}

TEST_F(Editing, AHeadIsForSelectingAndItsSwitchForSwitching) {
  startNewScene();
  addInfluence("gravity");
  waitFor([this] { return !item("gravity").is_null(); }, "gravity is there");
  desktop_.click(placeOf({{"of", "row_head"}, {"row", 0}}));
  ASSERT_TRUE(comesTrue([this] { return state()["selected"] == "emitter"; }));
  desktop_.click(placeOf({{"of", "column_head"}, {"column", 0}}));
  ASSERT_TRUE(comesTrue([this] { return state()["selected"] == "gravity"; }));
  EXPECT_NE(item("gravity").value("enabled", true), false) << "selecting turned it off";
  desktop_.click(placeOf({{"of", "column_switch"}, {"column", 0}}));
  EXPECT_TRUE(comesTrue([this] { return item("gravity").value("enabled", true) == false; }));
}

TEST_F(Editing, DeleteRemovesTheSelectedItem) {
  startNewScene();
  addInfluence("gravity");
  waitFor([this] { return !item("gravity").is_null(); }, "gravity is there");
  desktop_.click(placeOf({{"of", "column_head"}, {"column", 0}}));
  desktop_.key("Delete");
  EXPECT_TRUE(comesTrue([this] { return item("gravity").is_null(); }));
  undo();
  EXPECT_TRUE(comesTrue([this] { return !item("gravity").is_null(); }));
  // In a field it is the number that goes, and not the emitter.
  desktop_.click(placeOf({{"of", "row_head"}, {"row", 0}}));
  click(kRate);
  desktop_.key("Delete");
  desktop_.key("Escape");
  EXPECT_FALSE(item("emitter").is_null());
}

TEST_F(Editing, ANewSceneIsSeenThroughItsCameraAndPlays) {
  startNewScene();
  click("view");
  chooseInMenu("Top");
  ASSERT_TRUE(comesTrue([this] { return state()["view"] == 4; }));
  desktop_.key("n", {"Control_L"});
  EXPECT_TRUE(comesTrue([this] { return state()["view"] == 0 && state()["playing"] == true; }));
}

const char* const kFamily = R"({ "format": "tawny-comet-scene", "version": 1, "items": [
  { "kind": "emitter", "name": "pod", "params": { "rate": 20 } },
  { "kind": "emitter", "name": "fluff", "params": { "birth_trigger": "parent_life" } } ] })";

// Also while frames pass, each of which refreshes what the inspector shows.
TEST_F(Editing, AClickInAListChooses) {
  startWith(kFamily);
  ASSERT_TRUE(comesTrue([this] { return state()["playing"] == true; }));
  desktop_.click(placeOf({{"of", "row_head"}, {"row", 1}}));
  click("inspector/param.parent/item");
  chooseInMenu("pod");
  expectParam("fluff", "parent", "pod");
}

TEST_F(Editing, ANewRuleDoesNothingYetAndKeepsWhatIsTyped) {
  startWith(kFamily);
  stopPlaying();
  desktop_.click(placeOf({{"of", "row_head"}, {"row", 0}}));
  desktop_.key("f", {"Control_L"});
  desktop_.type("rules");
  desktop_.key("Return");
  click("add_rule");
  waitFor([this] { return !param("pod", "rules").is_null(); }, "a rule is there");
  EXPECT_TRUE(comesTrue([this] { return widget("inspector/rule0.when0.kind")["seen"][3] > 10; }))
      << "the new rule is out of sight";
  EXPECT_EQ(
      param("pod", "rules")[0]["then"][0].value("do", param("pod", "rules")[0]["then"][0].value("kind", "")),
      "burst")
      << param("pod", "rules").dump();
  typeInto("inspector/rule0.when0.first", "7");
  const QPoint kind = middleOf("inspector/rule0.when0.kind");
  const Json typed = param("pod", "rules")[0]["when"][0];
  // Away and back: the row stays where it is, and the number comes back.
  desktop_.click(kind);
  chooseInMenu("speed between");
  ASSERT_TRUE(comesTrue([&] { return param("pod", "rules")[0]["when"][0] != typed; }));
  EXPECT_EQ(middleOf("inspector/rule0.when0.kind"), kind) << "the row moved under the pointer";
  desktop_.click(kind);
  chooseInMenu("age between");
  EXPECT_TRUE(comesTrue([&] { return param("pod", "rules")[0]["when"][0] == typed; }))
      << param("pod", "rules").dump();
}

const char* const kKeyed = R"({ "format": "tawny-comet-scene", "version": 1, "items": [
  { "kind": "scene", "name": "scene", "params": { "last_frame": 60 } },
  { "kind": "emitter", "name": "reed", "params": {
    "lifetime": { "value": 1, "keys": [ { "frame": 10, "value": 1 }, { "frame": 20, "value": 2 }, { "frame": 50, "value": 3 } ] } } } ] })";

TEST_F(Editing, KeysAreFramedFromAnyEmptyPlace) {
  startWith(kKeyed);
  stopPlaying();
  desktop_.click(placeOf({{"of", "row_head"}, {"row", 0}}));
  const QPoint first = placeOf({{"of", "key"}, {"item", "reed"}, {"param", "lifetime"}, {"frame", 10}});
  const QPoint second = placeOf({{"of", "key"}, {"item", "reed"}, {"param", "lifetime"}, {"frame", 20}});
  // Well below the lane of the keys, up to above it.
  desktop_.drag({first.x() - 12, first.y() + 60}, {second.x() + 12, second.y() - 8});
  desktop_.key("Delete");
  EXPECT_TRUE(comesTrue([this] { return param("reed", "lifetime")["keys"].size() == 1; }))
      << param("reed", "lifetime").dump();
  EXPECT_FALSE(item("reed").is_null());
}

TEST_F(Editing, NothingMovesWhenMarksAndNotesAppear) {
  startNewScene();
  const QRect before = rectOf("undo"), tab = rectOf("page.2");
  typeInto(kRate, "50");
  expectParam("emitter", "rate", 50.0);
  EXPECT_NE(textOf("scene_name").find("●"), std::string::npos);
  EXPECT_EQ(rectOf("undo"), before);
  EXPECT_EQ(rectOf("page.2"), tab);
}

// Hundreds of birds that all see each other: what is said of them must not stop the window.
TEST_F(Editing, AFlockIsDescribedBehindTheWindow) {
  startWith(R"({ "format": "tawny-comet-scene", "version": 1, "items": [
    { "kind": "scene", "name": "scene", "params": { "last_frame": 48 } },
    { "kind": "emitter", "name": "gulls", "params": { "shape": "sphere", "radius": 2, "rate": 0, "lifetime_mode": "endless",
      "bursts": [ { "frame": 1, "count": 4000 } ] } },
    { "kind": "flock", "name": "flock", "params": { "sight_radius": 6, "target": "seek", "position": [90, 0, 0], "target_range": 1000, "target_strength": 80, "separation": 0,
      "alignment": 0, "cohesion": 0, "wander": 0, "turn_rate": 36000 } } ] })");
  waitFor([this] { return state()["simulated"] == true; }, "the flock is simulated");
  desktop_.click(placeOf({{"of", "column_head"}, {"column", 0}}));
  ask({{"ask", "times"}});
  EXPECT_TRUE(comesTrue(
      [this] { return textOf("inspector/influence_note").find("each sees") != std::string::npos; }));
  const Json longest = ask({{"ask", "times"}});
  EXPECT_LT(longest["ms"].get<double>(), 100) << longest.dump();
  EXPECT_TRUE(comesTrue([this] {
    return textOf("inspector/limit_note").find("Max speed") != std::string::npos;
  })) << "the limit that holds the strength is named";
}

}  // namespace
}  // namespace comet::test
