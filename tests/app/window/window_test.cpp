// The frame around the panels: files, history, names, keys, recovery.
#include "app/driver.h"
#include "catalog.h"
#include "controls/color_picker.h"
#include "controls/curve_lane.h"
#include "scene/scene_file.h"
#include "session/recovery.h"
#include "support/files.h"
#include "support/scenes.h"
#include "window/shortcuts.h"

#include <QDir>
#include <QLabel>
#include <QPushButton>
#include <QStandardPaths>
#include <QToolButton>

namespace comet {
namespace {

class MainWindowTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    newSceneAtRest();
  }
  const Item& emitter() { return *scene().itemsOf(ItemFamily::Emitter).front(); }
};

TEST_F(MainWindowTest, NameShowsUnsavedChanges) {
  auto* name = test::child<QLabel>(window_, "scene_name");
  EXPECT_EQ(name->text(), "New scene");
  document().setBase(emitter().id, "rate", 5.0);
  EXPECT_EQ(name->text(), "New scene ●");
  document().undo();
  EXPECT_EQ(name->text(), "New scene");
}

TEST_F(MainWindowTest, UndoAndRedoButtonsSayWhatTheyDo) {
  auto* undo = test::child<QToolButton>(window_, "undo");
  auto* redo = test::child<QToolButton>(window_, "redo");
  EXPECT_FALSE(undo->isEnabled());
  test::type(field("speed"), "9");
  EXPECT_TRUE(undo->toolTip().contains("change speed"));
  test::click(undo);
  EXPECT_EQ(emitter().number("speed", 1), 3);
  EXPECT_TRUE(redo->toolTip().contains("change speed"));
  test::click(redo);
  EXPECT_EQ(emitter().number("speed", 1), 9);
}

TEST_F(MainWindowTest, LeavingUnsavedWorkAsksFirst) {
  document().setBase(emitter().id, "rate", 5.0);
  test::answerNextQuestion("Cancel");
  EXPECT_FALSE(window_.close());
  EXPECT_EQ(emitter().number("rate", 1), 5);
  test::answerNextQuestion("Discard");
  newSceneAtRest();
  EXPECT_EQ(emitter().number("rate", 1), 120);
}

TEST_F(MainWindowTest, SavedFilesAreListedAsRecent) {
  const test::TemporaryFolder folder;
  const QString path = QString::fromStdString((folder / "kelp.comet").string());
  document().save(path);
  window_.openFile(path);
  ASSERT_TRUE(test::eventually([] { return !recentFiles().isEmpty(); }));
  EXPECT_EQ(recentFiles().front(), path);
  window_.showPage(MainWindow::Start);
  bool listed = false;
  for (QPushButton* button : window_.findChildren<QPushButton*>())
    listed = listed || button->text() == "kelp";
  EXPECT_TRUE(listed);
}

TEST_F(MainWindowTest, AFileThatAnotherProgramChangedIsOffered) {
  const test::TemporaryFolder folder;
  const auto file = folder / "kelp.comet";
  document().save(QString::fromStdString(file.string()));
  const Scene mine = document().scene(), theirs = mine.withName(document().selectedEmitter(), "theirs");
  writeScene(file, theirs);
  auto* notice = test::child<QWidget>(window_, "file_notice");
  ASSERT_TRUE(test::eventually([&] { return notice->isVisible(); }));
  test::click(test::child<QPushButton>(window_, "keep_scene"));
  EXPECT_FALSE(notice->isVisible());
  EXPECT_EQ(document().scene(), mine);
  EXPECT_TRUE(document().isChangedOnDisk()) << "saving still asks";

  writeScene(file, mine.withName(document().selectedEmitter(), "theirs again"));
  ASSERT_TRUE(test::eventually([&] { return notice->isVisible(); }));
  test::click(test::child<QPushButton>(window_, "reload_file"));
  ASSERT_TRUE(test::eventually([&] { return document().scene().findByName("theirs again") != nullptr; }));
  EXPECT_FALSE(document().hasUnsavedChanges());
  EXPECT_TRUE(test::eventually([&] { return !notice->isVisible(); }));
  document().undo();
  EXPECT_EQ(document().scene(), mine);
}

TEST_F(MainWindowTest, WorkThatBrokeOffIsRecoveredAsUnsaved) {
  const Scene lost = test::busyScene();
  const QDir folder(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/recovery");
  folder.mkpath(".");
  // What a crash leaves.
  {
    Document other(test::reader());
    Recovery recovery(other);
    other.replace(lost, "/somewhere/lost work.comet");
    other.setUnsaved();
    ASSERT_TRUE(test::eventually([&] { return !folder.entryList({"*.comet"}).isEmpty(); }));
    ASSERT_TRUE(
        QFile::copy(folder.filePath(folder.entryList({"*.comet"}).front()), folder.filePath("lost.comet")));
  }
  window_.showPage(MainWindow::Start);
  test::click(test::child<QPushButton>(window_, "recover"));
  EXPECT_EQ(scene(), lost);
  EXPECT_TRUE(document().hasUnsavedChanges());
  EXPECT_EQ(document().path(), "/somewhere/lost work.comet");
  EXPECT_EQ(test::child<QLineEdit>(inspector(), "item_name")->text().toStdString(),
            scene().find(document().selected())->name);
  // Its own copy is there before that one goes.
  EXPECT_TRUE(test::eventually([&] { return !QFile::exists(folder.filePath("lost.comet")); }));
  EXPECT_EQ(folder.entryList({"*.comet"}).size(), 1);
}

TEST_F(MainWindowTest, ItemsAreRenamedUnlessTheNameIsTaken) {
  auto* name = test::child<QLineEdit>(inspector(), "item_name");
  const auto rename = [name](const QString& text) {
    name->setFocus();
    name->selectAll();
    QTest::keyClicks(name, text);
    QTest::keyClick(name, Qt::Key_Return);
  };
  rename("chain grit");
  EXPECT_EQ(emitter().name, "chain grit");
  rename("camera");
  EXPECT_EQ(emitter().name, "chain grit");
  EXPECT_EQ(name->text(), "chain grit");
  rename("a.b");
  EXPECT_EQ(emitter().name, "chain grit");
}

TEST_F(MainWindowTest, TheInspectorTurnsItemsOff) {
  auto* enabled = test::child<QToolButton>(inspector(), "item_enabled");
  test::click(enabled);
  EXPECT_FALSE(emitter().enabled);
  test::click(enabled);
  EXPECT_TRUE(emitter().enabled);
}

TEST_F(MainWindowTest, SectionsFoldAndRememberIt) {
  for (QToolButton* head : test::child<QWidget>(window_, "inspector")->findChildren<QToolButton*>())
    if (head->text() == "Launch") test::click(head);
  EXPECT_FALSE(isShown("speed"));
  document().select(scene().camera().id);
  document().select(emitter().id);
  EXPECT_FALSE(isShown("speed"));
  for (QToolButton* head : test::child<QWidget>(window_, "inspector")->findChildren<QToolButton*>())
    if (head->text() == "Launch") test::click(head);
  EXPECT_TRUE(isShown("speed"));
}

TEST_F(MainWindowTest, QuestionMarkListsTheKeys) {
  auto* overlay = window_.findChild<ShortcutsOverlay*>();
  QTest::keyClick(&window_, Qt::Key_Question);
  EXPECT_TRUE(overlay->isVisible());
  QTest::keyClick(overlay, Qt::Key_Escape);
  EXPECT_FALSE(overlay->isVisible());
}

TEST_F(MainWindowTest, ThePanelUnderThePointerFillsTheWindowAndComesBack) {
  auto* viewport = test::child<QWidget>(window_, "viewport");
  auto* inspector = test::child<QWidget>(window_, "inspector");
  auto* timeline = test::child<QWidget>(window_, "timeline");
  const int widthBefore = viewport->width();
  QCursor::setPos(viewport->mapToGlobal(viewport->rect().center()));
  QTest::keyClick(&window_, Qt::Key_F11);
  QApplication::processEvents();
  EXPECT_TRUE(viewport->isVisible());
  EXPECT_FALSE(inspector->isVisible());
  EXPECT_FALSE(timeline->isVisible());
  EXPECT_EQ(viewport->width(), window_.width());
  QTest::keyClick(&window_, Qt::Key_F11);
  QApplication::processEvents();
  EXPECT_TRUE(inspector->isVisible());
  EXPECT_TRUE(timeline->isVisible());
  EXPECT_EQ(viewport->width(), widthBefore);
}

// Which leaves half of a small window, and more, to the picture.
TEST_F(MainWindowTest, PanelsFoldByOneKeyAndAreRemembered) {
  window_.openDemo("lantern_moths");
  auto* viewport = test::child<QWidget>(window_, "viewport");
  auto* inspector = test::child<QWidget>(window_, "inspector");
  auto* timeline = test::child<QWidget>(window_, "timeline");
  const QSize before = viewport->size();
  const int rulerBefore = static_cast<int>(timeline->height());
  const auto share = [&] {
    QApplication::processEvents();
    return static_cast<double>(viewport->width()) * viewport->height() / (window_.width() * window_.height());
  };
  QTest::keyClick(&window_, Qt::Key_F3);
  EXPECT_GT(share(), 0.5);
  EXPECT_TRUE(timeline->isVisible());
  EXPECT_LT(timeline->height(), rulerBefore / 3);
  QTest::keyClick(&window_, Qt::Key_F2);
  EXPECT_GT(share(), 0.75);
  EXPECT_FALSE(inspector->isVisible());
  EXPECT_TRUE(test::child<QToolButton>(window_, "fold_left")->isChecked());
  {
    MainWindow later(test::reader());
    later.show();
    later.showPage(MainWindow::Shape);
    EXPECT_FALSE(test::child<QWidget>(later, "inspector")->isVisible());
    EXPECT_TRUE(test::child<QWidget>(later, "mark_strip")->isVisible());
  }
  test::click(test::child<QToolButton>(window_, "fold_left"));
  test::click(test::child<QToolButton>(window_, "fold_lower"));
  share();
  EXPECT_TRUE(inspector->isVisible());
  EXPECT_EQ(viewport->size(), before);
  EXPECT_EQ(timeline->height(), rulerBefore);
}

TEST_F(MainWindowTest, AFoldedColumnsMarksSelectAndOpenIt) {
  window_.openDemo("lantern_moths");
  QTest::keyClick(&window_, Qt::Key_F2);
  auto* moths = test::child<QToolButton>(window_, "mark.moths");
  test::click(moths);
  EXPECT_EQ(window_.document().scene().find(window_.document().selected())->name, "moths");
  EXPECT_TRUE(moths->isChecked());
  EXPECT_FALSE(test::child<QWidget>(window_, "inspector")->isVisible());
  test::click(moths);
  EXPECT_TRUE(test::child<QWidget>(window_, "inspector")->isVisible());
  EXPECT_TRUE(moths->isHidden() || !moths->isVisible());
}

TEST_F(MainWindowTest, WhatIsFoundIsSeenWhateverWasInItsPlace) {
  window_.openDemo("lantern_moths");
  auto* inspector = test::child<QWidget>(window_, "inspector");
  const auto findRate = [this] {
    QTest::keyClick(&window_, Qt::Key_F, Qt::ControlModifier);
    QWidget* focus = QApplication::focusWidget();
    QTest::keyClicks(focus, "rate");
    QTest::keyClick(focus, Qt::Key_Return);
  };
  QTest::keyClick(&window_, Qt::Key_F2);
  EXPECT_FALSE(inspector->isVisible());
  findRate();
  EXPECT_TRUE(test::eventually([&] { return inspector->isVisible(); }));
  test::click(test::child<QToolButton>(window_, "add_preset"));
  EXPECT_FALSE(inspector->isVisible());
  findRate();
  EXPECT_TRUE(test::eventually([&] { return inspector->isVisible(); }));
}

TEST_F(MainWindowTest, WhatAddsIsSeenBelowFewRows) {
  for (const char* demo : {"gull_flock", "paddle_spray"}) {
    window_.openDemo(demo);
    QApplication::processEvents();
    auto* add = test::child<QPushButton>(window_, "add_emitter");
    EXPECT_EQ(add->visibleRegion().boundingRect(), add->rect()) << demo;
  }
}

TEST_F(MainWindowTest, TheGridIsAsHighAsItsRowsAndNoHigherThanItsShare) {
  window_.openDemo("lantern_moths");
  auto* grid = test::child<QWidget>(window_, "influence_grid");
  auto* inspector = test::child<QWidget>(window_, "inspector");
  const auto seesAllRows = [grid] {
    return grid->visibleRegion().boundingRect().height() == grid->sizeHint().height();
  };
  EXPECT_TRUE(test::eventually(seesAllRows));
  const int inspectorBefore = inspector->height();
  test::click(test::child<QPushButton>(window_, "add_emitter"));
  EXPECT_TRUE(test::eventually(seesAllRows));
  EXPECT_LT(inspector->height(), inspectorBefore);
  for (int i = 0; i < 16; ++i) test::click(test::child<QPushButton>(window_, "add_emitter"));
  EXPECT_TRUE(test::eventually([&] { return !seesAllRows(); }));
  EXPECT_GT(inspector->height(), window_.height() / 3);
  for (int i = 0; i < 17; ++i) window_.document().undo();
  EXPECT_TRUE(test::eventually([&] { return seesAllRows() && inspector->height() == inspectorBefore; }));
}

TEST_F(MainWindowTest, TransportStepsAndJumps) {
  test::click(test::child<QToolButton>(window_, "step_forward"));
  EXPECT_EQ(document().frame(), 2);
  test::click(test::child<QToolButton>(window_, "step_back"));
  EXPECT_EQ(document().frame(), 1);
  test::type(test::child<NumberField>(window_, "frame"), "48");
  EXPECT_EQ(document().frame(), 48);
  test::click(test::child<QToolButton>(window_, "rewind"));
  EXPECT_EQ(document().frame(), 1);
}

TEST_F(MainWindowTest, WithoutLoopPlayingStopsAtTheEnd) {
  document().setBase(scene().settings().id, "last_frame", 8.0);
  test::click(test::child<QToolButton>(window_, "loop"));
  test::click(test::child<QToolButton>(window_, "play"));
  EXPECT_TRUE(test::eventually([this] { return document().frame() == 8; }));
  QTest::qWait(300);
  EXPECT_EQ(document().frame(), 8);
}

TEST(CurveLane, PointsAreAddedKeptInOrderAndRemoved) {
  CurveLane lane;
  lane.resize(300, 68);
  lane.setOpen(true);
  lane.setCurve(Curve({{0, 1}, {0.5, 0.5}, {1, 0}}));
  lane.show();
  QTest::mouseDClick(&lane, Qt::LeftButton, Qt::NoModifier, lane.place(0.25, 0.2).toPoint());
  ASSERT_EQ(lane.curve().points().size(), 4U);
  EXPECT_NEAR(lane.curve().points()[1].x, 0.25, 0.01);
  // Dragged past its neighbour, it stops there.
  test::drag(&lane, lane.place(0.25, 0.2).toPoint(), lane.place(0.9, 0.2).toPoint());
  EXPECT_LE(lane.curve().points()[1].x, lane.curve().points()[2].x);
  EXPECT_NEAR(lane.curve().points()[1].x, 0.5, 1e-9);
  QTest::mouseClick(&lane, Qt::RightButton, Qt::NoModifier, lane.place(1, 0).toPoint());
  EXPECT_EQ(lane.curve().points().size(), 3U);
}

TEST(CurveLane, AFreeCourseIsBentByItsHandles) {
  CurveLane lane;
  lane.resize(300, 68);
  lane.setOpen(true);
  lane.setCurve(Curve({{0, 1}, {0.5, 0.5}, {1, 0}}));
  lane.show();
  const auto offset = [&lane](int point) {
    return lane.curve().points()[static_cast<std::size_t>(point)].toNext;
  };
  for (int i = 0; i < 2; ++i)
    QTest::mouseDClick(&lane, Qt::LeftButton, Qt::NoModifier, lane.place(0, 1).toPoint());
  ASSERT_EQ(offset(0), Interpolation::Bezier);
  const double before = lane.curve().at(0.25);
  const CurveHandle handle = lane.curve().points()[0].after;
  test::drag(&lane, lane.place(handle.dx, 1 + handle.dy).toPoint(), lane.place(0.3, 0.1).toPoint());
  EXPECT_NEAR(lane.curve().points()[0].after.dx, 0.3, 0.01);
  EXPECT_LT(lane.curve().at(0.25), before - 0.1);
  EXPECT_EQ(lane.curve().points()[1].x, 0.5) << "the points stay";
  QTest::mouseDClick(&lane, Qt::LeftButton, Qt::NoModifier, lane.place(0, 1).toPoint());
  EXPECT_EQ(offset(0), Interpolation::Smooth);
}

TEST(CurveLane, ClosedLanesAreNotEdited) {
  CurveLane lane;
  lane.resize(300, 28);
  lane.setOpen(false);
  lane.setCurve(Curve({{0, 1}, {1, 0}}));
  lane.show();
  QTest::mouseDClick(&lane, Qt::LeftButton, Qt::NoModifier, lane.place(0.5, 0.2).toPoint());
  test::drag(&lane, lane.place(1, 0).toPoint(), lane.place(1, 1).toPoint());
  EXPECT_EQ(lane.curve(), Curve({{0, 1}, {1, 0}}));
}

TEST(ColorPicker, TakesLightAndHexDigits) {
  ColorPicker picker;
  Vec3d picked{0.0};
  QObject::connect(&picker, &ColorPicker::edited, &picker, [&picked](const Vec3d& color) { picked = color; });
  picker.setColor(Vec3d(0.5, 0.5, 0.5));
  picker.show();
  test::type(test::child<NumberField>(picker, "r"), "4");
  EXPECT_NEAR(picked.x, 4, 1e-9) << "brighter than white";
  EXPECT_NEAR(picked.y, 0.5, 0.01);
  EXPECT_NEAR(test::child<NumberField>(picker, "stop_brightness")->value(), 4, 0.02);
  picker.setColor(Vec3d(1.0, 1.0, 1.0));
  auto* hex = test::child<QLineEdit>(picker, "hex");
  EXPECT_EQ(hex->text(), "#ffffff");
  hex->selectAll();
  QTest::keyClicks(hex, "ff8000");
  QTest::keyClick(hex, Qt::Key_Return);
  // IEC 61966-2-1: half of the scale is 21.6 % of the light.
  EXPECT_NEAR(picked.x, 1, 1e-3);
  EXPECT_NEAR(picked.y, 0.2158, 1e-3);
  EXPECT_NEAR(picked.z, 0, 1e-3);
  hex->selectAll();
  QTest::keyClicks(hex, "plaid");
  QTest::keyClick(hex, Qt::Key_Return);
  EXPECT_EQ(hex->text(), "#ff8000") << "nonsense leaves the colour";
}

TEST(ColorPicker, ShadesAndHuesMakeTheColour) {
  ColorPicker picker;
  Vec3d picked(-1.0);
  QObject::connect(&picker, &ColorPicker::edited, &picker, [&picked](const Vec3d& color) { picked = color; });
  picker.setColor(Vec3d(1.0, 0.0, 0.0));
  picker.show();
  QTest::mouseClick(&picker, Qt::LeftButton, Qt::NoModifier, QPoint(8, 8));  // no saturation, full value
  EXPECT_NEAR(picked.x, 1, 0.02);
  EXPECT_NEAR(picked.y, 1, 0.02);
  QTest::mouseClick(&picker, Qt::LeftButton, Qt::NoModifier,
                    QPoint(227, 8));  // full saturation of the hue, red
  EXPECT_NEAR(picked.x, 1, 0.02);
  EXPECT_NEAR(picked.y, 0, 0.02);
  QTest::mouseClick(&picker, Qt::LeftButton, Qt::NoModifier,
                    QPoint(8 + 220 / 3, 154));  // a third around: green
  EXPECT_NEAR(picked.y, 1, 0.02);
  EXPECT_NEAR(picked.x, 0, 0.02);
}

TEST(ScreenColor, ComesBack) {
  for (const Vec3d& color : {Vec3d(0.0), Vec3d(1.0), Vec3d(0.2, 0.5, 0.8)}) {
    const Vec3d back = linearColor(screenColor(color));
    for (int channel = 0; channel < 3; ++channel) EXPECT_NEAR(back[channel], color[channel], 1e-3);
  }
}

}  // namespace
}  // namespace comet
