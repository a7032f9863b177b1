// Gas in the viewport: its box is drawn larger by hand, its voxels are read, planes of it are shown.
#include "app/driver.h"
#include "support/scenes.h"
#include "viewport/viewport.h"

#include <QPushButton>

namespace comet {
namespace {

class GasViewTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    window_.showPage(MainWindow::Shape);
    document().replace(
        test::with(test::gasScene(), {"gas.resolution=16", "scene.last_frame=8", "source.amount=held",
                                      "source.density=5", "gas.opacity=50", "emitter.rate=0"}),
        {});
    document().select(scene().findByName("gas")->id);
    viewport_ = test::child<Viewport>(window_, "viewport");
    EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
    document().setFrame(8);
    // The last picture may still be on its way.
    EXPECT_TRUE(
        test::eventually([this] { return viewport_->shownFrame() == 8 && viewport_->reduction() == 1; }));
  }
  Vec3d gas(const char* param) { return scene().findByName("gas")->vector(param, 0); }
  void choose(const char* entry) {
    test::chooseFromMenu(test::child<QPushButton>(window_, "overlay"), entry);
  }
  // Where the source gives it.
  QPoint gasInPicture() {
    document().select(scene().findByName("source")->id);
    QApplication::processEvents();
    return viewport_->handle(-1).toPoint() + QPoint(10, -10);
  }

  Viewport* viewport_ = nullptr;
};

TEST_F(GasViewTest, AFaceOfTheBoxIsMovedByItsHandle) {
  const Vec3d position = gas("position"), size = gas("size");
  const QPoint top = viewport_->boxHandle({1, true}).toPoint();
  test::drag(viewport_, top, top + QPoint(0, -30));
  EXPECT_GT(gas("size").y, size.y + 0.2);
  EXPECT_NEAR(gas("position").y - 0.5 * gas("size").y, position.y - 0.5 * size.y, 2e-3)
      << "the floor stays where it is";
  EXPECT_EQ(gas("size").x, size.x);
  EXPECT_EQ(gas("position").x, position.x);
  document().undo();
  EXPECT_EQ(gas("size"), size) << "a drag is one step";
  EXPECT_EQ(gas("position"), position);
  // Pushed through the opposite face, the box stays a box.
  const QPoint again = viewport_->boxHandle({1, true}).toPoint();
  test::drag(viewport_, again, again + QPoint(0, 900));
  EXPECT_GT(gas("size").y, 0);
  EXPECT_LT(gas("size").y, 0.1);
}

TEST_F(GasViewTest, AClickReadsTheVoxelAndTheSliceGoesThroughIt) {
  choose("Gas slice: density");
  ASSERT_TRUE(test::eventually([this] { return viewport_->gasOverlay().slicePlane().has_value(); }));
  const std::size_t middle = *viewport_->gasOverlay().slicePlane();
  test::click(viewport_, gasInPicture());
  ASSERT_TRUE(test::eventually([this] { return viewport_->gasProbe().isActive(); }));
  auto* panel = test::child<ProbePanel>(window_, "probe_panel");
  EXPECT_TRUE(panel->isVisible());
  const QString lines = panel->lines().join("\n");
  EXPECT_TRUE(lines.contains("gas, voxel")) << lines.toStdString();
  EXPECT_TRUE(lines.contains("density")) << lines.toStdString();
  EXPECT_GT(viewport_->gasProbe().voxel()->density, 0);
  ASSERT_TRUE(test::eventually([&] { return viewport_->gasOverlay().slicePlane() != middle; }))
      << "what is seen is the front of the gas";
  // It goes on with the frame.
  document().setFrame(3);
  EXPECT_TRUE(test::eventually([&] { return panel->lines().join("\n") != lines; }));
  test::click(test::child<QPushButton>(window_, "end_probe"));
  EXPECT_FALSE(panel->isVisible());
  EXPECT_TRUE(test::eventually([&] { return viewport_->gasOverlay().slicePlane() == middle; }));
}

TEST_F(GasViewTest, OverlaysAreDrawnWhereTheyAreChosen) {
  const auto picture = [this] {
    QApplication::processEvents();
    return viewport_->grab().toImage();
  };
  const QImage plain = picture();
  for (const char* entry : {"Gas slice: temperature", "Gas slice: speed", "Gas velocity arrows"}) {
    const QImage before = picture();
    choose(entry);
    EXPECT_TRUE(test::eventually([&] { return picture() != before; })) << entry;
  }
  choose("Gas bricks");
  EXPECT_TRUE(test::eventually([this] { return viewport_->gasOverlay().brickCount() > 0; }));
  choose("Gas bricks");
  choose("Gas velocity arrows");
  choose("No gas slice");
  EXPECT_TRUE(test::eventually([&] { return picture() == plain; }));
}

}  // namespace
}  // namespace comet
