// Deflectors in the real window.
#include "app/driver.h"
#include "grid/influence_grid.h"
#include "support/scenes.h"
#include "viewport/viewport.h"

#include <QHelpEvent>
#include <QToolTip>

namespace comet {
namespace {

class DeflectorViewTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    window_.showPage(MainWindow::Shape);
    Scene scene = test::withInfluence(test::oneBurst(200), "gravity");
    document().replace(test::with(scene, {"emitter.place=0,2,0", "emitter.speed=0"}), {});
    QApplication::processEvents();
    viewport_ = test::child<Viewport>(window_, "viewport");
  }
  double lowestAt(int frame) {
    EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
    const ParticleFramePtr now = window_.backgroundRun().frame(frame);
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
  EXPECT_TRUE(isShown("hold"));
  EXPECT_FALSE(isShown("bounce"));
}

TEST_F(DeflectorViewTest, IsMovedByItsHandleAndDrawn) {
  test::addInfluence(window_, "deflec");
  document().setBase(document().selected(), "shape", std::string("box"));
  const QImage before = viewport_->grab().toImage();
  const QPoint grip = viewport_->handle(1).toPoint();
  test::drag(viewport_, grip, grip - QPoint(0, 60));
  EXPECT_GT(scene().find(document().selected())->vector("place", 1).y, 0.3);
  EXPECT_NE(viewport_->grab().toImage(), before);
}

TEST_F(DeflectorViewTest, BirthsInsideAreCountedInWords) {
  document().edit(
      test::withInfluence(scene(), "deflector",
                          {"deflector.shape=box", "deflector.place=0,2,0", "deflector.size=4,4,4"}),
      "");
  EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
  document().setFrame(2);
  ASSERT_EQ(viewport_->caughtNotes().size(), 1);
  EXPECT_TRUE(viewport_->caughtNotes()[0].startsWith("200 particles lay inside deflector"));
  document().setFrame(20);
  EXPECT_TRUE(viewport_->caughtNotes().empty());
}

}  // namespace
}  // namespace comet
