// The plane that cuts the scene open, moved by its handles.
#include "app/driver.h"
#include "render/clip_plane.h"
#include "support/scenes.h"
#include "viewport/viewport.h"

#include <QCheckBox>
#include <QToolButton>

namespace comet {
namespace {

class ClipView : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    newSceneAtRest();
    window_.showPage(MainWindow::Shape);
    document().select(scene().settings().id);
    QApplication::processEvents();
  }
  Vec3d planeAt() { return clipPlaneOf(scene(), 1)->at; }
};

TEST_F(ClipView, IsMovedByOneDragAndOneUndo) {
  auto* viewport = test::child<Viewport>(window_, "viewport");
  const auto grab = [&] { return viewport->grab().toImage(); };
  const QImage without = grab();
  auto* clip = row("clip")->findChild<QCheckBox*>();
  test::click(clip, QPoint(8, clip->height() / 2));
  ASSERT_TRUE(clipPlaneOf(scene(), 1));
  EXPECT_TRUE(test::eventually([&] { return grab() != without; })) << "the plane is drawn";
  const Vec3d before = planeAt();
  const QPoint up = viewport->handle(1).toPoint();
  test::drag(viewport, up, up + QPoint(0, -40));
  EXPECT_GT(planeAt().y, before.y + 0.1);
  EXPECT_NEAR(planeAt().x, before.x, 1e-9);
  EXPECT_NEAR(planeAt().z, before.z, 1e-9);
  test::click(test::child<QToolButton>(window_, "undo"));
  EXPECT_EQ(planeAt(), before);
  test::click(test::child<QToolButton>(window_, "undo"));
  EXPECT_FALSE(clipPlaneOf(scene(), 1));
}

}  // namespace
}  // namespace comet
