// Flocks in the real window.
#include "app/driver.h"
#include "support/scenes.h"
#include "viewport/viewport.h"

#include <QLabel>
#include <glm/geometric.hpp>

namespace comet {
namespace {

class FlockViewTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    window_.showPage(MainWindow::Shape);
    document().replace(test::with(test::oneBurst(120), {"emitter.shape=sphere", "emitter.radius=1",
                                                        "emitter.position=0,2,0", "emitter.launch=random"}),
                       {});
    QApplication::processEvents();
    test::addInfluence(window_, "flock");
    flock_ = document().selected();
  }
  QString note() {
    EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
    return test::child<QLabel>(window_, "influence_note")->text();
  }

  ItemId flock_ = 0;
};

TEST_F(FlockViewTest, IsAddedAndKeepsParticlesTogether) {
  EXPECT_EQ(scene().find(flock_)->kind->id(), "flock");
  EXPECT_TRUE(test::eventually([&] { return note().contains("neighbours on average"); }))
      << note().toStdString();
  const auto farthest = [this](int frame) {
    const SceneFramePtr now = window_.backgroundRun().frame(frame);
    double max = 0;
    for (std::size_t i = 0; i < test::onlyGroup(now).size(); ++i)
      max = std::max(max, glm::length(test::positionOf(test::onlyGroup(now), i) -
                                      test::positionOf(test::onlyGroup(now), 0)));
    return max;
  };
  const double together = farthest(90);
  document().edit(scene().withEnabled(flock_, false), "");
  EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
  EXPECT_GT(farthest(90), 2 * together) << "left alone, each goes its own way";
}

TEST_F(FlockViewTest, SaysThatNobodySeesTheTarget) {
  EXPECT_FALSE(isShown("circle_radius"));
  document().setBase(flock_, "target", std::string("circle"));
  document().setBase(flock_, "position", Vec3d(60, 0, 0));
  QApplication::processEvents();
  EXPECT_TRUE(isShown("circle_radius"));
  EXPECT_TRUE(test::eventually([&] { return note().contains("no particle sees the target"); }))
      << note().toStdString();
  document().setBase(flock_, "target_range", 500.0);
  EXPECT_TRUE(test::eventually([&] { return !note().contains("no particle sees the target"); }));
}

TEST_F(FlockViewTest, ItsTargetIsMovedByItsHandle) {
  document().setBase(flock_, "target", std::string("seek"));
  auto* viewport = test::child<Viewport>(window_, "viewport");
  QApplication::processEvents();
  const double before = scene().find(flock_)->vector("position", 1).y;
  const QPoint airDrag = viewport->handle(1).toPoint();
  test::drag(viewport, airDrag, airDrag - QPoint(0, 40));
  EXPECT_GT(scene().find(flock_)->vector("position", 1).y, before + 0.2);
}

}  // namespace
}  // namespace comet
