// Pictures that are kept and drawn ahead, in the real window.
#include "app/driver.h"
#include "support/scenes.h"
#include "viewport/viewport.h"

#include <QHelpEvent>
#include <QToolTip>

namespace comet {
namespace {

class PictureRunTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    window_.showPage(MainWindow::Shape);
    document().replace(test::with(test::starting(), {"scene.last_frame=12", "emitter.rate=400"}), {});
    viewport_ = test::child<Viewport>(window_, "viewport");
    EXPECT_TRUE(allDrawn());
  }
  PictureRun& pictures() { return window_.pictureRun(); }
  ::testing::AssertionResult allDrawn() {
    return test::eventually([this] {
      for (int frame = 1; frame <= 12; ++frame)
        if (!pictures().isDrawn(frame)) return false;
      return pictures().missing() == 0;
    });
  }
  bool isShown(int frame) const { return viewport_->shownFrame() == frame; }
  // Whether the picture on the screen was there before it was asked for.
  bool wasKept() const { return !viewport_->drawMilliseconds(); }
  ItemId emitter() { return scene().findByName("emitter")->id; }

  Viewport* viewport_ = nullptr;
};

TEST_F(PictureRunTest, ShowsFramesAtOnceThatAreDrawnAhead) {
  for (int frame = 12; frame >= 1; --frame) {
    document().setFrame(frame);
    // Without any event in between.
    EXPECT_TRUE(isShown(frame) && wasKept()) << frame;
    EXPECT_EQ(viewport_->reduction(), 1);
  }
}

TEST_F(PictureRunTest, WhatIsShownIsWhatWouldBeDrawn) {
  document().setFrame(9);
  const QImage kept = test::settledPicture(*viewport_);
  pictures().cache().clear();
  document().setFrame(8);
  document().setFrame(9);
  EXPECT_TRUE(test::eventually([this] { return isShown(9) && !wasKept(); }));
  EXPECT_EQ(test::settledPicture(*viewport_), kept);
}

TEST_F(PictureRunTest, AnEditIsDrawnAnewAndItsUndoFound) {
  document().setFrame(9);
  const QImage before = test::settledPicture(*viewport_);
  document().setBase(emitter(), "brightness", 0.5);
  EXPECT_TRUE(test::eventually([this] { return !wasKept(); }));
  EXPECT_NE(test::settledPicture(*viewport_), before);
  document().undo();
  EXPECT_TRUE(test::eventually([this] { return wasKept(); }, 1000)) << "kept over the edit";
  EXPECT_EQ(test::settledPicture(*viewport_), before);
  EXPECT_TRUE(allDrawn());
}

TEST_F(PictureRunTest, AnotherViewHasItsOwnPictures) {
  viewport_->look(ViewKind::Top);
  EXPECT_FALSE(pictures().isDrawn(9));
  EXPECT_TRUE(allDrawn());
  viewport_->look(ViewKind::Camera);
  EXPECT_TRUE(wasKept());
}

TEST_F(PictureRunTest, StaysWithinItsMemoryAndSaysSo) {
  document().replace(test::with(scene(), {"scene.picture_cache=16", "scene.last_frame=200"}), {});
  EXPECT_TRUE(test::eventually([this] { return pictures().isFull(); }));
  EXPECT_LE(pictures().cache().bytes(), std::size_t{16} << 20);
  EXPECT_EQ(pictures().missing(), 0) << "it waits for nothing";
  EXPECT_TRUE(pictures().isDrawn(1));
  EXPECT_FALSE(pictures().isDrawn(200));
  // What is still missing is drawn when it is looked at.
  document().setFrame(200);
  EXPECT_TRUE(test::eventually([this] { return isShown(200); }));
  auto* timeline = window_.findChild<QWidget*>("timeline");
  ASSERT_NE(timeline, nullptr);
  QHelpEvent help(QEvent::ToolTip, {300, 12}, timeline->mapToGlobal(QPoint(300, 12)));
  QApplication::sendEvent(timeline, &help);
  EXPECT_TRUE(QToolTip::text().contains("Picture cache")) << QToolTip::text().toStdString();
}

TEST_F(PictureRunTest, RestsWhileTheEffectIsNotSeen) {
  window_.showPage(MainWindow::Bake);
  document().setBase(emitter(), "brightness", 0.5);
  EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
  QTest::qWait(500);
  EXPECT_FALSE(pictures().isDrawn(9));
  window_.showPage(MainWindow::Shape);
  EXPECT_TRUE(allDrawn());
}

// A painter alone, asked for what is too slow to be drawn in full at once.
TEST(FramePainter, DrawsWithFewerPixelsFirstAndThenAll) {
  PictureCache cache(std::size_t{1} << 28);
  FramePainter painter(cache);
  std::vector<FramePainter::Painted> seen;
  QObject::connect(&painter, &FramePainter::painted,
                   [&seen](const FramePainter::Painted& painted) { seen.push_back(painted); });
  const Scene scene = test::with(test::starting(), {"emitter.rate=400"});
  const SceneFramePtr frame = test::simulate(scene, 12);
  const Digest key = (Hasher() << 1).digest();
  FramePainter::Request request{{{scene, *frame, {}, cameraOf(scene, 12), {320, 180}}, {}}, key, 4, true, 1};
  painter.paint(request);
  ASSERT_TRUE(test::eventually([&] { return seen.size() == 2; }));
  EXPECT_EQ(seen[0].reduction, 4);
  EXPECT_EQ(seen[1].reduction, 1);
  for (const auto& painted : seen) EXPECT_EQ(painted.picture->width, 320) << "stretched for the screen";
  EXPECT_EQ(cache.find(key), seen[1].picture) << "what is drawn in full is kept";
  // While the effect plays, the next frame comes before there is time for that.
  request.refines = false;
  painter.paint(request);
  ASSERT_TRUE(test::eventually([&] { return seen.size() == 3; }));
  QTest::qWait(200);
  EXPECT_EQ(seen.size(), 3U);
}

}  // namespace
}  // namespace comet
