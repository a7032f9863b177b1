// Particles that arrive, in the real window: added from the grid, told of, drawn, probed and looked at.
#include "app/driver.h"
#include "controls/number_field.h"
#include "particles/arrival.h"
#include "simulation/arrivals/arrival_report.h"
#include "support/scenes.h"
#include "viewport/viewport.h"

#include <QLabel>
#include <QToolButton>
#include <glm/geometric.hpp>

namespace comet {
namespace {

class ArriveViewTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    window_.showPage(MainWindow::Shape);
    document().replace(test::with(test::oneBurst(30), {"emitter.speed=0.5"}), {});
    QApplication::processEvents();
    test::addInfluence(window_, "arrive");
    arrive_ = document().selected();
  }
  QString note() {
    EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
    return test::child<QLabel>(window_, "influence_note")->text();
  }

  ItemId arrive_ = 0;
};

TEST_F(ArriveViewTest, IsAddedAndSaysWhoHasArrived) {
  EXPECT_EQ(scene().find(arrive_)->kind->id(), "arrive");
  document().setFrame(20);
  EXPECT_TRUE(test::eventually([&] {
    return note() == "300 points, 270 of them free\n0 particles have arrived, 30 are on their way";
  })) << note().toStdString();
  document().setFrame(48);
  EXPECT_TRUE(test::eventually([&] { return note().contains("30 particles have arrived"); }))
      << note().toStdString();
  test::type(field("points"), "20");
  EXPECT_TRUE(test::eventually([&] { return note().startsWith("10 particles find no free point"); }))
      << note().toStdString();
  test::click(test::child<QToolButton>(window_, "undo"));
  EXPECT_TRUE(test::eventually([&] { return note().startsWith("300 points"); }));
}

TEST_F(ArriveViewTest, ShowsWhatAppliesToItsTarget) {
  EXPECT_TRUE(isShown("points"));
  EXPECT_TRUE(isShown("radius"));
  EXPECT_FALSE(isShown("target_emitter"));
  document().setBase(arrive_, "target", std::string("particles"));
  QApplication::processEvents();
  EXPECT_FALSE(isShown("points"));
  EXPECT_FALSE(isShown("radius"));
  EXPECT_TRUE(isShown("target_emitter"));
  EXPECT_TRUE(test::eventually([&] { return note().startsWith("there are no points: choose the emitter"); }))
      << note().toStdString();
}

TEST_F(ArriveViewTest, LinesLeadToThePointsWhileItIsSelected) {
  auto* viewport = test::child<Viewport>(window_, "viewport");
  const auto grab = [&] { return viewport->grab().toImage(); };
  (void)note();
  document().setFrame(20);
  const QImage selected = test::settledPicture(*viewport);
  document().select(scene().settings().id);
  EXPECT_TRUE(test::eventually([&] { return grab() != selected; }));
}

TEST_F(ArriveViewTest, ItsShapeIsMovedByItsHandle) {
  auto* viewport = test::child<Viewport>(window_, "viewport");
  const double before = scene().find(arrive_)->vector("position", 1).y;
  const QPoint up = viewport->handle(1).toPoint();
  test::drag(viewport, up, up - QPoint(0, 40));
  EXPECT_GT(scene().find(arrive_)->vector("position", 1).y, before + 0.2);
  test::click(test::child<QToolButton>(window_, "undo"));
  EXPECT_EQ(scene().find(arrive_)->vector("position", 1).y, before);
}

}  // namespace
}  // namespace comet
