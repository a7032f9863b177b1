// Deflectors in the real window.
#include "app/driver.h"
#include "grid/influence_grid.h"
#include "support/meshes.h"
#include "support/scenes.h"
#include "viewport/viewport.h"

#include <QHelpEvent>
#include <QLabel>
#include <QPushButton>
#include <QToolTip>

namespace comet {
namespace {

class DeflectorViewTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    window_.showPage(MainWindow::Shape);
    Scene scene = test::withInfluence(test::oneBurst(200), "gravity");
    document().replace(test::with(scene, {"emitter.position=0,2,0", "emitter.speed=0"}), {});
    QApplication::processEvents();
    viewport_ = test::child<Viewport>(window_, "viewport");
  }
  double lowestAt(int frame) {
    EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
    const SceneFramePtr now = window_.backgroundRun().frame(frame);
    double lowest = 1e9;
    for (std::size_t i = 0; i < test::onlyGroup(now).size(); ++i)
      lowest = std::min(lowest, test::positionOf(test::onlyGroup(now), i).y);
    return lowest;
  }

  Viewport* viewport_ = nullptr;
};

TEST_F(DeflectorViewTest, IsAddedAndHoldsWhatFallsOnIt) {
  EXPECT_LT(lowestAt(60), -10);
  test::addInfluence(window_, "deflec");
  EXPECT_EQ(scene().find(document().selected())->kind->id(), "deflector");
  EXPECT_NEAR(lowestAt(60), 0, 0.5);
  // A cell that is cleared lets its emitter's particles through.
  auto* grid = test::child<InfluenceGrid>(window_, "influence_grid");
  test::click(grid, grid->cellRect(0, 1).center());
  QTest::keyClick(grid, Qt::Key_Delete);
  EXPECT_LT(lowestAt(60), -10);
}

TEST_F(DeflectorViewTest, ShowsWhatAppliesToItsShapeAndSurface) {
  test::addInfluence(window_, "deflec");
  const ItemId deflector = document().selected();
  EXPECT_FALSE(isShown("radius"));
  EXPECT_FALSE(isShown("inside_out"));
  EXPECT_TRUE(isShown("bounce"));
  document().setBase(deflector, "shape", std::string("sphere"));
  document().setBase(deflector, "on_hit", std::string("stick"));
  QApplication::processEvents();
  EXPECT_TRUE(isShown("radius"));
  EXPECT_TRUE(isShown("inside_out"));
  EXPECT_TRUE(isShown("stick_strength"));
  EXPECT_FALSE(isShown("bounce"));
}

TEST_F(DeflectorViewTest, IsMovedByItsHandleAndDrawn) {
  test::addInfluence(window_, "deflec");
  document().setBase(document().selected(), "shape", std::string("box"));
  const QImage before = viewport_->grab().toImage();
  const QPoint airDrag = viewport_->handle(1).toPoint();
  test::drag(viewport_, airDrag, airDrag - QPoint(0, 60));
  EXPECT_GT(scene().find(document().selected())->vector("position", 1).y, 0.3);
  EXPECT_NE(viewport_->grab().toImage(), before);
}

TEST_F(DeflectorViewTest, BirthsInsideAreCountedInWords) {
  document().edit(
      test::withInfluence(scene(), "deflector",
                          {"deflector.shape=box", "deflector.position=0,2,0", "deflector.size=4,4,4"}),
      "");
  EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
  document().setFrame(2);
  ASSERT_EQ(viewport_->caughtNotes().size(), 1);
  EXPECT_TRUE(viewport_->caughtNotes()[0].startsWith("200 particles were inside deflector"));
  document().setFrame(20);
  EXPECT_TRUE(viewport_->caughtNotes().empty());
}

TEST_F(DeflectorViewTest, SaysHowAMeshIsMetAndHowOftenItIsHit) {
  Mesh open = test::boxMesh({4, 1, 4});
  open.triangles.pop_back();
  open.parts.pop_back();
  test::addInfluence(window_, "deflec");
  const ItemId deflector = document().selected();
  document().setBase(deflector, "shape", std::string("mesh"));
  const auto note = [this] { return test::child<QLabel>(window_, "influence_note")->text(); };
  EXPECT_TRUE(test::eventually([&] { return note().contains("choose a file"); })) << note().toStdString();
  document().setBase(deflector, "mesh", FileRef{"made here", std::make_shared<const MeshContent>(open), {}});
  EXPECT_TRUE(test::eventually([&] { return note().contains("collides by rays"); })) << note().toStdString();
  EXPECT_TRUE(test::eventually([&] { return note().contains("3 edges are open"); })) << note().toStdString();
  document().setBase(deflector, "mesh",
                     FileRef{"made here", std::make_shared<const MeshContent>(test::boxMesh({4, 1, 4})), {}});
  document().setBase(deflector, "collision_test", std::string("distance_field"));
  EXPECT_TRUE(test::eventually([&] { return note().contains("distance field"); })) << note().toStdString();
  EXPECT_TRUE(test::eventually([&] { return note().contains("MB"); })) << note().toStdString();
  EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
  // All 200 fall from 2 onto its upper side at 0.5: after 0.55 s.
  document().setFrame(15);
  EXPECT_TRUE(test::eventually([&] { return note().contains("200 hits in this frame"); }))
      << note().toStdString();
  document().setFrame(3);
  EXPECT_TRUE(test::eventually([&] { return note().contains("0 hits in this frame"); }))
      << note().toStdString();
}

TEST_F(DeflectorViewTest, IsShadedInTheViewportWhereAskedFor) {
  test::addInfluence(window_, "deflec");
  const ItemId deflector = document().selected();
  document().setBase(deflector, "shape", std::string("box"));
  document().setBase(deflector, "size", Vec3d(3, 3, 3));
  document().setBase(deflector, "position", Vec3d(0, 1, 0));
  document().setBase(deflector, "surface_color", Vec3d(0, 1, 0));
  document().select(document().scene().settings().id);
  const auto greenest = [this] {
    const QImage image = viewport_->grab().toImage();
    int max = 0;
    for (int y = image.height() / 3; y < 2 * image.height() / 3; y += 4)
      for (int x = image.width() / 3; x < 2 * image.width() / 3; x += 4) {
        const QColor color = image.pixelColor(x, y);
        max = std::max(max, color.green() - color.red());
      }
    return max;
  };
  EXPECT_TRUE(test::eventually([&] { return window_.backgroundRun().isComplete(); }));
  EXPECT_LT(greenest(), 60);
  document().setBase(deflector, "viewport_display", std::string("shaded"));
  EXPECT_TRUE(test::eventually([&] { return greenest() > 60; }));
}

TEST_F(DeflectorViewTest, HitsAreDrawnWhereTheyHappen) {
  test::addInfluence(window_, "deflec");
  EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
  int hitFrame = 2;
  while (window_.backgroundRun().frame(hitFrame)->report->hits.empty()) ++hitFrame;
  document().setFrame(hitFrame);
  QApplication::processEvents();
  const QImage before = viewport_->grab().toImage();
  test::chooseFromMenu(test::child<QPushButton>(window_, "overlay"), "Hits on deflectors");
  EXPECT_TRUE(viewport_->sceneOverlay().showsHits);
  EXPECT_TRUE(test::eventually([&] { return viewport_->grab().toImage() != before; }));
}

}  // namespace
}  // namespace comet
