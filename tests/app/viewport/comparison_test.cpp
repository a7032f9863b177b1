// Snapshots kept, compared and restored in the real window.
#include "viewport/comparison.h"

#include "app/driver.h"
#include "scene/scene_file.h"
#include "support/files.h"
#include "support/scenes.h"
#include "viewport/viewport.h"

#include <QComboBox>
#include <QPushButton>
#include <QToolButton>

namespace comet {
namespace {

class ComparisonTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    window_.showPage(MainWindow::Shape);
    document().replace(
        test::with(test::starting(),
                   {"scene.last_frame=8", "emitter.rate=4000", "emitter.color=[{\"color\":[1,0,0]}]",
                    "camera.position=0,1,6", "camera.aim=0,1,0", "emitter.size=0.5"}),
        {});
    document().setFrame(6);
    seen();
  }
  Viewport& viewport() { return window_.viewport(); }
  Comparison& comparison() { return viewport().comparison(); }
  // The viewport's picture, once it is there.
  QImage seen() {
    EXPECT_TRUE(test::eventually(
        [this] { return viewport().shownFrame() == document().frame() && viewport().reduction() == 1; }));
    return test::settledPicture(viewport());
  }
  void keep() { test::click(test::child<QPushButton>(window_, "snapshot")); }
  void choose(const char* name, int index) {
    auto* box = test::child<QComboBox>(window_, name);
    box->setFocus();
    box->setCurrentIndex(index);
    Q_EMIT box->activated(index);
  }
  void makeBlue() { document().edit(test::with(scene(), {"emitter.color=[{\"color\":[0,0,1]}]"}), "blue"); }
  // How much of a part of a picture is rather red, or rather blue.
  struct Hues {
    int red = 0, blue = 0;
  };
  static Hues huesOf(const QImage& picture, double from, double to) {
    Hues hues;
    for (int x = static_cast<int>(from * picture.width()); x < static_cast<int>(to * picture.width()); ++x)
      for (int y = picture.height() / 8; y < picture.height() * 7 / 8; ++y) {
        const QColor color = picture.pixelColor(x, y);
        // Those of handles are mixed.
        const int least = std::min({color.red(), color.green(), color.blue()});
        hues.red += color.red() > 3 * color.green() && color.red() > 3 * color.blue() + 20 && least < 50;
        hues.blue += color.blue() > 3 * color.green() && color.blue() > 3 * color.red() + 20 && least < 50;
      }
    return hues;
  }
};

TEST_F(ComparisonTest, ASnapshotIsKeptWithItsPictureAndOneUndoTakesItBack) {
  keep();
  ASSERT_EQ(scene().snapshots().size(), 1U);
  const Snapshot& kept = *scene().snapshots().front();
  EXPECT_EQ(kept.name, "Snapshot");
  const QImage picture = QImage::fromData(QByteArray::fromStdString(kept.picture), "PNG");
  EXPECT_FALSE(picture.isNull());
  EXPECT_GT(huesOf(picture, 0, 1).red, 20);
  EXPECT_TRUE(document().hasUnsavedChanges());
  document().undo();
  EXPECT_TRUE(scene().snapshots().empty());
}

TEST_F(ComparisonTest, TheLineWipesFromTheSnapshotToTheScene) {
  keep();
  makeBlue();
  choose("compare_with", 1);
  const QImage both = seen();
  EXPECT_GT(huesOf(both, 0, 0.48).red, 50);
  EXPECT_EQ(huesOf(both, 0, 0.48).blue, 0);
  EXPECT_GT(huesOf(both, 0.52, 1).blue, 50);
  EXPECT_EQ(huesOf(both, 0.52, 1).red, 0);
  const QPoint middle = viewport().rect().center();
  const ViewKind view = viewport().view();
  test::drag(&viewport(), {middle.x(), 30}, {20, 30});
  EXPECT_NEAR(comparison().line(), 20.0 / viewport().width(), 0.01);
  EXPECT_EQ(viewport().view(), view) << "the view stays where it is";
  EXPECT_EQ(huesOf(seen(), 0.05, 1).red, 0);
}

TEST_F(ComparisonTest, OneKeyShowsTheSnapshotAndTheSceneAgain) {
  keep();
  makeBlue();
  QTest::keyClick(&window_, Qt::Key_C);
  EXPECT_TRUE(comparison().showsSnapshot());
  EXPECT_GT(huesOf(seen(), 0, 1).red, 100);
  EXPECT_EQ(huesOf(seen(), 0, 1).blue, 0);
  choose("compare_mode", static_cast<int>(CompareMode::Toggle));
  EXPECT_EQ(huesOf(seen(), 0, 1).red, 0);
  QTest::keyClick(&window_, Qt::Key_C);
  EXPECT_EQ(huesOf(seen(), 0, 1).blue, 0);
}

TEST_F(ComparisonTest, SideBySideBothAreSeenWholeAndFollowFrameAndView) {
  keep();
  makeBlue();
  choose("compare_with", 1);
  choose("compare_mode", static_cast<int>(CompareMode::SideBySide));
  const QImage before = seen();
  EXPECT_GT(huesOf(before, 0, 0.5).red, 50);
  EXPECT_GT(huesOf(before, 0.5, 1).blue, 50);
  EXPECT_NEAR(huesOf(before, 0, 0.5).red, huesOf(before, 0.5, 1).blue, huesOf(before, 0, 0.5).red / 3);
  document().setFrame(2);
  const QImage earlier = seen();
  EXPECT_LT(huesOf(earlier, 0, 0.5).red, huesOf(before, 0, 0.5).red);
  EXPECT_LT(huesOf(earlier, 0.5, 1).blue, huesOf(before, 0.5, 1).blue);
  document().setFrame(6);
  test::drag(&viewport(), {200, 200}, {320, 260});
  EXPECT_EQ(viewport().view(), ViewKind::Free);
  const QImage turned = seen();
  EXPECT_NE(turned, before);
  EXPECT_GT(huesOf(turned, 0, 0.5).red, 50);
}

TEST_F(ComparisonTest, RestoringIsOneStepAndKeepsTheSnapshot) {
  keep();
  const Scene red = scene();
  makeBlue();
  choose("compare_with", 1);
  test::chooseFromMenu(test::child<QToolButton>(window_, "snapshot_more"), "Restore");
  EXPECT_EQ(scene(), red);
  document().undo();
  EXPECT_NE(scene(), red);
  EXPECT_EQ(scene().snapshots(), red.snapshots());
}

TEST_F(ComparisonTest, RenamedItIsStillComparedAndDeletedItIsNot) {
  keep();
  choose("compare_with", 1);
  auto* list = test::child<QComboBox>(window_, "compare_with");
  test::chooseFromMenu(test::child<QToolButton>(window_, "snapshot_more"), "Rename");
  ASSERT_TRUE(test::eventually([&] { return list->isEditable(); }));
  QTest::keyClicks(list->lineEdit(), "calm");
  QTest::keyClick(list->lineEdit(), Qt::Key_Return);
  EXPECT_FALSE(list->isEditable());
  EXPECT_EQ(scene().snapshots().front()->name, "calm");
  EXPECT_EQ(list->currentText(), "calm");
  EXPECT_TRUE(comparison().isOn());
  test::chooseFromMenu(test::child<QToolButton>(window_, "snapshot_more"), "Delete");
  EXPECT_TRUE(scene().snapshots().empty());
  EXPECT_FALSE(comparison().isOn());
  EXPECT_FALSE(list->isVisible());
}

TEST_F(ComparisonTest, SavedWithTheSceneAndOfAnotherSceneNoMore) {
  keep();
  choose("compare_with", 1);
  const test::TemporaryFolder folder;
  const QString path = QString::fromStdString((folder / "kept.comet").string());
  document().save(path);
  window_.newScene();
  EXPECT_FALSE(comparison().isOn());
  document().open(path);
  ASSERT_EQ(scene().snapshots().size(), 1U);
  EXPECT_FALSE(scene().snapshots().front()->picture.empty());
  EXPECT_EQ(test::child<QComboBox>(window_, "compare_with")->count(), 2);
}

}  // namespace
}  // namespace comet
