// One drag is one step of undo, whatever is dragged and whether the effect plays or not.
#include "window/driver.h"

#include <fstream>

namespace comet::test {
namespace {

// Emitters with keys, bursts and a mask, and influences: something of each kind that can be dragged.
const char* const kScene = R"({
  "format": "tawny-comet-scene", "version": 1,
  "items": [
    { "kind": "scene", "name": "scene", "params": { "last_frame": 60 } },
    { "kind": "camera", "name": "camera" },
    { "kind": "emitter", "name": "reed", "params": {
      "rate": { "value": 40, "variation": 10 },
      "bursts": [ { "frame": 20, "count": 30 } ],
      "size": { "value": 0.2, "over_age": [ { "at": 0, "value": 0.4 }, { "at": 0.5, "value": 1 }, { "at": 1, "value": 0 } ] },
      "opacity": { "value": 1, "over_age": [ { "at": 0, "value": 0 }, { "at": 0.5, "value": 0.8 }, { "at": 1, "value": 0 } ] },
      "color": [ { "at": 0, "color": [1, 0.5, 0.2] }, { "at": 0.5, "color": [0.4, 0.4, 0.4] }, { "at": 1, "color": [0, 0, 0] } ],
      "lifetime": { "value": 1, "keys": [ { "frame": 10, "value": 1 }, { "frame": 30, "value": 2 } ] } } },
    { "kind": "emitter", "name": "plank", "params": {
      "sprite": "picture", "picture": "sample:hull_planks.png",
      "mask": [ { "x": 0.1, "y": 0.1 }, { "x": 0.9, "y": 0.1 }, { "x": 0.5, "y": 0.5 }, { "x": 0.1, "y": 0.9 } ] } },
    { "kind": "gas", "name": "steam", "params": { "resolution": 8, "size": [2, 2, 2], "position": [0, 1.5, 0] } },
    { "kind": "gravity", "name": "gravity" },
    { "kind": "wind", "name": "wind" } ] })";

class Undo : public WindowTest, public ::testing::WithParamInterface<bool> {
 protected:
  // Whether the effect plays while something is dragged.
  void SetUp() override {
    const QString path = folder().filePath("undo.comet");
    std::ofstream(path.toStdString()) << kScene;
    start({path});
    waitFor([this] { return state()["page"] == 1 && state()["simulated"] == true; },
            "the scene is simulated");
    if (!GetParam()) {
      click("play");
      waitFor([this] { return state()["playing"] == false; }, "playing stops");
    }
  }

  void drag(const QPoint& from, const QPoint& by) { desktop_.drag(from, from + by); }
  void select(int row) { desktop_.click(placeOf({{"of", "row_head"}, {"row", row}})); }
};

TEST_P(Undo, OfANumber) {
  select(0);
  const QPoint field = middleOf("inspector/param.rate/value");
  expectOneUndoStep([&] { drag(field, {60, 0}); }, "dragging a number");
}

TEST_P(Undo, OfAVariation) {
  select(0);
  const QPoint field = middleOf("inspector/param.rate/variation");
  expectOneUndoStep([&] { drag(field, {30, 0}); }, "dragging a variation");
}

TEST_P(Undo, OfAVector) {
  select(0);
  const QPoint field = middleOf("inspector/param.position/y");
  expectOneUndoStep([&] { drag(field, {40, 0}); }, "dragging a part of a vector");
}

TEST_P(Undo, OfACellOfTheGrid) {
  const QPoint cell = placeOf({{"of", "cell"}, {"row", 0}, {"column", 1}});
  expectOneUndoStep([&] { drag(cell, {-30, 0}); }, "dragging a response");
}

TEST_P(Undo, OfACurvePoint) {
  select(0);
  const QPoint point = placeOf({{"of", "point"}, {"name", "lane.opacity"}, {"index", 1}});
  expectOneUndoStep([&] { drag(point, {20, 8}); }, "dragging a point of a curve");
}

TEST_P(Undo, OfAGradientStop) {
  select(0);
  // In the inspector, whose panel can be scrolled to it.
  middleOf("inspector/param.color");
  const QPoint stop = placeOf({{"of", "stop"}, {"name", "inspector/gradient"}, {"index", 1}});
  expectOneUndoStep([&] { drag(stop, {25, 0}); }, "dragging a stop of a gradient");
}

TEST_P(Undo, OfAHandleInTheViewport) {
  select(0);
  const QPoint tip = placeOf({{"of", "handle"}, {"axis", 0}});
  expectOneUndoStep([&] { drag(tip, {50, 0}); }, "dragging a handle in the viewport");
}

TEST_P(Undo, OfADirection) {
  select(0);
  const QPoint tip = placeOf({{"of", "direction"}});
  expectOneUndoStep([&] { drag(tip, {60, 40}); }, "dragging the arrow of a direction");
}

TEST_P(Undo, OfAFaceOfABox) {
  select(2);
  const QPoint face = placeOf({{"of", "box_handle"}, {"axis", 0}, {"upper", true}});
  expectOneUndoStep([&] { drag(face, {40, 0}); }, "dragging a face of a gas's box");
}

TEST_P(Undo, OfAKey) {
  select(0);
  const QPoint key = placeOf({{"of", "key"}, {"param", "lifetime"}, {"frame", 10}});
  expectOneUndoStep([&] { drag(key, {30, 0}); }, "dragging a key");
}

TEST_P(Undo, OfABurst) {
  select(0);
  const QPoint burst = placeOf({{"of", "burst"}, {"item", "reed"}, {"index", 0}});
  expectOneUndoStep([&] { drag(burst, {40, 0}); }, "dragging a burst");
}

TEST_P(Undo, OfAMaskPoint) {
  select(1);
  middleOf("inspector/mask_editor");
  const QPoint point =
      placeOf({{"of", "point"}, {"name", "inspector/mask_editor"}, {"item", "plank"}, {"index", 2}});
  expectOneUndoStep([&] { drag(point, {25, 10}); }, "dragging a point of a mask");
}

INSTANTIATE_TEST_SUITE_P(Window, Undo, ::testing::Bool(),
                         [](const auto& test) { return test.param ? "WhilePlaying" : "AtRest"; });

// What is keyed is edited at the frame at which the hand began, and playing stops there.
TEST_F(WindowTest, AnEditOfKeysStopsPlaying) {
  const QString path = folder().filePath("undo.comet");
  // The keys stand behind what is played, so that the hand cannot meet one by chance.
  std::string text = kScene;
  text.replace(text.find("\"frame\": 10"), 11, "\"frame\": 90");
  text.replace(text.find("\"frame\": 30"), 11, "\"frame\": 99");
  std::ofstream(path.toStdString()) << text;
  start({path});
  waitFor([this] { return state()["playing"] == true && state()["frame"] > 2; }, "the scene plays");
  desktop_.click(placeOf({{"of", "row_head"}, {"row", 0}}));
  const QPoint field = middleOf("inspector/param.lifetime/value");
  desktop_.drag(field, field + QPoint(50, 0));
  ASSERT_TRUE(comesTrue([this] { return state()["playing"] == false; }));
  EXPECT_EQ(param("reed", "lifetime")["keys"].size(), 3U) << "one key was set, and no more";
}

}  // namespace
}  // namespace comet::test
