#include "timeline/timeline.h"

#include "app/driver.h"
#include "support/scenes.h"

#include <QToolButton>
#include <set>

namespace comet {
namespace {

class TimelineTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    Scene scene = test::withInfluence(test::starting(), "wind",
                                      {"wind.acts=frame_range", "wind.acts_from=20", "wind.acts_until=60"});
    scene = test::with(
        scene,
        {R"(emitter.rate={"keys":[{"frame":10,"value":100,"to_next":"linear"},{"frame":30,"value":200},{"frame":50,"value":50}]})",
         R"(emitter.position={"keys":[{"frame":10,"value":[0,0,0]},{"frame":40,"value":[4,2,0]}]})"});
    document().replace(scene, {});
    window_.showPage(MainWindow::Shape);
    document().select(emitter());
    QApplication::processEvents();
    timeline_ = test::child<Timeline>(window_, "timeline");
  }
  ItemId emitter() { return scene().findByName("emitter")->id; }
  ItemId wind() { return scene().findByName("wind")->id; }
  double number(const char* item, const char* param) { return scene().findByName(item)->number(param, 1); }
  QPoint keyAt(const char* param, double frame) {
    return timeline_->keys().placeOf({param, frame}).toPoint();
  }
  std::vector<double> frames(const char* param) {
    std::vector<double> list;
    for (const Key& key : scene().findByName("emitter")->value(param).keys) list.push_back(key.frame);
    return list;
  }
  int pixels(int frames) { return static_cast<int>(timeline_->xOf(1 + frames) - timeline_->xOf(1)); }

  Timeline* timeline_ = nullptr;
};

TEST_F(TimelineTest, TheEndsOfAWindowAreDraggedAndAllOfIt) {
  const auto end = [this] {
    return QPoint(static_cast<int>(timeline_->barOf(wind()).right()),
                  timeline_->barOf(wind()).center().toPoint().y());
  };
  test::drag(timeline_, end(), end() + QPoint(pixels(12), 0));
  EXPECT_NEAR(number("wind", "acts_until"), 72, 1);
  EXPECT_EQ(number("wind", "acts_from"), 20);
  const QPoint middle = timeline_->barOf(wind()).center().toPoint();
  const double length = number("wind", "acts_until") - 20;
  test::drag(timeline_, middle, middle - QPoint(pixels(8), 0));
  EXPECT_NEAR(number("wind", "acts_from"), 12, 1);
  EXPECT_EQ(number("wind", "acts_until") - number("wind", "acts_from"), length);
  document().undo();
  document().undo();
  EXPECT_EQ(number("wind", "acts_until"), 60) << "each drag is one step";
  // The beginning does not pass the end.
  const QPoint begin(static_cast<int>(timeline_->barOf(wind()).left()), middle.y());
  test::drag(timeline_, begin, begin + QPoint(pixels(80), 0));
  EXPECT_EQ(number("wind", "acts_from"), 60);
}

TEST_F(TimelineTest, AClickOnARowsNameSelectsItsItem) {
  test::click(timeline_, QPoint(20, timeline_->barOf(wind()).center().toPoint().y()));
  EXPECT_EQ(document().selected(), wind());
}

TEST_F(TimelineTest, KeysAreChosenAndShiftedTogether) {
  test::click(timeline_, keyAt("rate", 10));
  QTest::mouseClick(timeline_, Qt::LeftButton, Qt::ShiftModifier, keyAt("position", 40));
  EXPECT_EQ(timeline_->keys().chosen().size(), 2U);
  test::drag(timeline_, keyAt("rate", 10), keyAt("rate", 10) + QPoint(pixels(6), 0));
  EXPECT_NEAR(frames("rate")[0], 16, 1);
  EXPECT_EQ(frames("rate")[0] - 10, frames("position")[1] - 40);
  EXPECT_EQ(frames("rate")[1], 30) << "not chosen";
  document().undo();
  EXPECT_EQ(frames("rate"), (std::vector<double>{10, 30, 50}));
}

TEST_F(TimelineTest, AFrameOverKeysChoosesThemAndCtrlStretchesThem) {
  const QPoint from = keyAt("rate", 10) - QPoint(pixels(5), 8), to = keyAt("rate", 50) + QPoint(pixels(4), 8);
  test::drag(timeline_, from, to);
  EXPECT_EQ(timeline_->keys().chosen().size(), 3U);
  test::drag(timeline_, keyAt("rate", 50), keyAt("rate", 50) + QPoint(pixels(40), 0), Qt::ControlModifier);
  // From the first key, which stays, twice as long.
  EXPECT_EQ(frames("rate")[0], 10);
  EXPECT_NEAR(frames("rate")[1], 50, 1);
  EXPECT_NEAR(frames("rate")[2], 90, 1);
}

TEST_F(TimelineTest, KeysAreCopiedMirroredAndRemoved) {
  test::click(timeline_, keyAt("rate", 10));
  QTest::mouseClick(timeline_, Qt::LeftButton, Qt::ShiftModifier, keyAt("rate", 30));
  QTest::keyClick(timeline_, Qt::Key_C, Qt::ControlModifier);
  document().setFrame(70);
  QTest::keyClick(timeline_, Qt::Key_V, Qt::ControlModifier);
  EXPECT_EQ(frames("rate"), (std::vector<double>{10, 30, 50, 70, 90}));
  const auto value = [this](double frame) { return scene().findByName("emitter")->number("rate", frame); };
  EXPECT_EQ(value(70), 100);
  test::chooseFromContextMenu(timeline_, keyAt("rate", 70), "Mirror in time");
  EXPECT_EQ(value(70), 200);
  EXPECT_EQ(value(90), 100);
  QTest::keyClick(timeline_, Qt::Key_Delete);
  EXPECT_EQ(frames("rate"), (std::vector<double>{10, 30, 50}));
}

TEST_F(TimelineTest, TheWayOnFromAKeyIsChosen) {
  test::click(timeline_, keyAt("rate", 30));
  test::chooseFromContextMenu(timeline_, keyAt("rate", 30), "Hold");
  EXPECT_EQ(scene().findByName("emitter")->number("rate", 49), 200);
}

TEST_F(TimelineTest, InTheGraphKeysAndHandlesAreDragged) {
  test::click(test::child<QToolButton>(window_, "timeline_graph"));
  ASSERT_EQ(timeline_->graph().param(), "rate");
  const auto rate = [this] { return scene().findByName("emitter")->value("rate"); };
  const QPoint key = timeline_->graph().placeOf(30, 200).toPoint();
  const QPoint there = timeline_->graph().placeOf(36, 150).toPoint();
  test::drag(timeline_, key, there);
  EXPECT_NEAR(rate().keys[1].frame, 36, 1);
  EXPECT_NEAR(std::get<double>(rate().keys[1].value), 150, 4);
  const QPoint held =
      timeline_->graph().placeOf(rate().keys[1].frame, std::get<double>(rate().keys[1].value)).toPoint();
  const double before = rate().numberAt(42);
  test::chooseFromContextMenu(timeline_, held, "Bézier, with handles");
  EXPECT_NEAR(rate().numberAt(42), before, 1e-6) << "a free course begins as it was";
  const CurveHandle handle = rate().keys[1].after[0];
  const double frame = rate().keys[1].frame, value = std::get<double>(rate().keys[1].value);
  const QPoint end = timeline_->graph().placeOf(frame + handle.dx, value + handle.dy).toPoint();
  test::drag(timeline_, end, end - QPoint(0, 30));
  EXPECT_GT(rate().numberAt(42), before + 2);
  EXPECT_EQ(rate().keys[1].frame, frame);
}

TEST_F(TimelineTest, TheGraphTakesNewKeysAndShowsOtherParameters) {
  test::click(test::child<QToolButton>(window_, "timeline_graph"));
  const QPoint place = timeline_->graph().placeOf(70, 120).toPoint();
  QTest::mouseDClick(timeline_, Qt::LeftButton, Qt::NoModifier, place);
  ASSERT_EQ(frames("rate").size(), 4U);
  EXPECT_NEAR(scene().findByName("emitter")->number("rate", 70), 120, 4);
  // The second name on the left.
  test::click(timeline_, QPoint(20, timeline_->graph().placeOf(1, 0).toPoint().y() > 0 ? 30 + 18 + 9 : 0));
  EXPECT_EQ(timeline_->graph().param(), "position");
}

TEST_F(TimelineTest, ABurstIsDraggedToAnotherFrame) {
  document().edit(
      test::with(scene(), {R"(emitter.bursts=[{"frame":20,"count":50},{"frame":70,"count":10}])"}), "");
  const auto bursts = [this] {
    return std::get<BurstList>(scene().findByName("emitter")->value("bursts").base);
  };
  const QPoint tick = timeline_->births().tickOf(timeline_->birthsPlace(emitter()), 1).toPoint();
  test::drag(timeline_, tick, tick - QPoint(pixels(30), 0));
  EXPECT_NEAR(bursts()[1].frame, 40, 1);
  EXPECT_EQ(bursts()[0].frame, 20);
  EXPECT_EQ(bursts()[1].count, 10);
  document().undo();
  EXPECT_EQ(bursts()[1].frame, 70) << "the drag is one step";
}

TEST_F(TimelineTest, TheTopOfTheBirthsRaisesTheRate) {
  document().edit(test::with(scene(), {"emitter.rate=100"}), "");
  const BirthsLane::Place place = timeline_->birthsPlace(emitter());
  // Births are counted behind the window.
  const auto isCounted = [&] { return timeline_->births().topAt(place, 50).y() < place.lane.bottom() - 5; };
  ASSERT_TRUE(test::eventually(isCounted));
  const QPointF top = timeline_->births().topAt(place, 50);
  const double half = 0.5 * (place.lane.bottom() - top.y());
  const QPoint from = top.toPoint(), to(from.x(), static_cast<int>(top.y() + half));
  test::drag(timeline_, from, to);
  // As far as whole pixels tell.
  EXPECT_NEAR(number("emitter", "rate"),
              100 * (place.lane.bottom() - to.y()) / (place.lane.bottom() - from.y()), 1);
  document().undo();
  EXPECT_EQ(number("emitter", "rate"), 100);
  // All keys alike, so that the course keeps its form.
  document().edit(
      test::with(
          scene(),
          {R"(emitter.rate={"keys":[{"frame":1,"value":200,"to_next":"linear"},{"frame":96,"value":100}]})"}),
      "");
  const QPointF left = timeline_->births().topAt(timeline_->birthsPlace(emitter()), 5);
  test::drag(timeline_, left.toPoint(),
             QPoint(left.toPoint().x(), static_cast<int>(place.lane.bottom() - 5)));
  const KeyTrack& keys = scene().findByName("emitter")->value("rate").keys;
  EXPECT_LT(std::get<double>(keys[0].value), 120);
  EXPECT_NEAR(std::get<double>(keys[0].value) / std::get<double>(keys[1].value), 2, 0.05);
}

TEST_F(TimelineTest, MarkersAreSetNotedMovedAndRemoved) {
  const auto markers = [this] { return std::get<MarkerList>(scene().settings().value("markers").base); };
  const QPoint at(static_cast<int>(timeline_->xOf(40)), 10);
  QTest::mouseDClick(timeline_, Qt::LeftButton, Qt::NoModifier, at);
  auto* note = test::child<QLineEdit>(*timeline_, "marker_note");
  ASSERT_TRUE(note->isVisible());
  QTest::keyClicks(note, "the rim");
  QTest::keyClick(note, Qt::Key_Return);
  ASSERT_EQ(markers().size(), 1U);
  EXPECT_EQ(markers()[0].note, "the rim");
  const double frame = markers()[0].frame;
  EXPECT_NEAR(frame, 40, 1);
  const QPoint flag = timeline_->ruler().flagOf(frame).center().toPoint();
  test::drag(timeline_, flag, flag + QPoint(pixels(20), 0));
  ASSERT_EQ(markers().size(), 1U);
  EXPECT_NEAR(markers()[0].frame, frame + 20, 1);
  EXPECT_EQ(markers()[0].note, "the rim");
  test::chooseFromContextMenu(timeline_, timeline_->ruler().flagOf(markers()[0].frame).center().toPoint(),
                              "Remove the marker");
  EXPECT_TRUE(markers().empty());
  document().undo();
  EXPECT_EQ(markers().size(), 1U);
}

TEST_F(TimelineTest, APartIsPlayedAndItsEndsAreDragged) {
  const auto played = [this] { return playedRange(scene()); };
  const auto choose = [this](double frame, const QString& entry) {
    test::chooseFromContextMenu(timeline_, QPoint(static_cast<int>(std::lround(timeline_->xOf(frame))), 12),
                                entry);
  };
  choose(20, "Play from frame 20");
  choose(30, "Play until frame 30");
  EXPECT_EQ(played(), (FrameRange{20, 30}));
  EXPECT_EQ(frameRange(scene()), (FrameRange{1, 96})) << "the scene itself stays";
  const QPoint end(static_cast<int>(timeline_->xOf(30)), 3);
  test::drag(timeline_, end, end + QPoint(pixels(10), 0));
  EXPECT_NEAR(played().last, 40, 1);
  document().undo();
  EXPECT_EQ(played(), (FrameRange{20, 30}));
  EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
  std::set<int> seen;
  QObject watcher;
  QObject::connect(&document(), &Document::frameChanged, &watcher,
                   [&seen](int frame) { seen.insert(frame); });
  test::click(test::child<QToolButton>(window_, "play"));
  EXPECT_TRUE(test::eventually([&seen] { return seen.size() == 11; })) << "goes round within the part";
  test::click(test::child<QToolButton>(window_, "play"));
  EXPECT_EQ(*seen.begin(), 20);
  EXPECT_EQ(*seen.rbegin(), 30);
  choose(50, "Play all");
  EXPECT_EQ(played(), (FrameRange{1, 96}));
}

TEST_F(TimelineTest, EveryFrameIsShownIfWanted) {
  document().edit(test::with(scene(), {"scene.frame_rate=240"}), "");
  EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
  test::click(test::child<QToolButton>(window_, "every_frame"));
  std::vector<int> seen;
  QObject watcher;
  QObject::connect(&document(), &Document::frameChanged, &watcher,
                   [&seen](int frame) { seen.push_back(frame); });
  test::click(test::child<QToolButton>(window_, "play"));
  EXPECT_TRUE(test::eventually([&seen] { return seen.size() > 40; }));
  test::click(test::child<QToolButton>(window_, "play"));
  for (std::size_t i = 1; i < seen.size(); ++i)
    ASSERT_EQ(seen[i], seen[i - 1] == 96 ? 1 : seen[i - 1] + 1) << "none is left out";
}

TEST_F(TimelineTest, LanesOfKeysLieBelowTheRowOfTheirItem) {
  const BirthsLane::Place place = timeline_->birthsPlace(emitter());
  EXPECT_GT(keyAt("rate", 10).y(), place.lane.bottom());
  EXPECT_LT(keyAt("position", 10).y(), timeline_->barOf(wind()).top()) << "and above the next item's";
}

TEST_F(TimelineTest, TheRulerShowsSecondsIfWanted) {
  const QImage frames = timeline_->grab().toImage();
  const QPoint onRuler(static_cast<int>(timeline_->xOf(30)), 12);
  test::chooseFromContextMenu(timeline_, onRuler, "Show seconds only");
  EXPECT_NE(timeline_->grab().toImage(), frames);
  // All moments are read in seconds from then on: 24 frames a second, the first of which is 1.
  auto* frame = test::child<NumberField>(window_, "frame");
  test::type(frame, "0.5");
  EXPECT_EQ(document().frame(), 13);
  test::type(frame, "20f");
  EXPECT_EQ(document().frame(), 20);
  test::chooseFromContextMenu(timeline_, onRuler, "Show frames, and lengths in seconds");
  test::type(frame, "5");
  EXPECT_EQ(document().frame(), 5);
}

}  // namespace
}  // namespace comet
