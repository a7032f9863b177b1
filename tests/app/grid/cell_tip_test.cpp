#include "grid/cell_tip.h"

#include "app/driver.h"
#include "support/scenes.h"
#include "viewport/viewport.h"

namespace comet {
namespace {

using test::starting;
using test::with;
using test::withInfluence;

QString tipAt(const Scene& scene, const char* influence, double frame) {
  return cellTip(scene, *scene.findByName("emitter"), *scene.findByName(influence), frame);
}

TEST(CellTip, SaysWhatTheCellDoesNow) {
  Scene scene = withInfluence(
      starting(), "wind",
      {"wind.reach=sphere", "wind.acts=frame_range", "wind.acts_from=10", "wind.acts_until=20"});
  const ItemId emitter = scene.findByName("emitter")->id, wind = scene.findByName("wind")->id;
  scene = scene.withResponse(emitter, wind, {35});
  EXPECT_TRUE(tipAt(scene, "wind", 15).contains("wind acts on emitter at 35 %, inside a sphere"));
  EXPECT_TRUE(tipAt(scene, "wind", 15).contains("from frame 10 to 20 (now 100 %)"));
  EXPECT_TRUE(tipAt(scene, "wind", 30).contains("(now 0 %)"));
  EXPECT_TRUE(tipAt(scene.withResponse(emitter, wind, {}), "wind", 15).contains("does not act on"));
  EXPECT_TRUE(tipAt(scene.withResponse(emitter, wind, {-5}), "wind", 15).contains("reversed"));
}

TEST(CellTip, SaysWhoFeelsTheirMass) {
  const Scene scene = withInfluence(withInfluence(starting(), "wind"), "gravity");
  EXPECT_TRUE(tipAt(scene, "wind", 1).contains("Heavier particles respond less"));
  EXPECT_TRUE(tipAt(scene, "gravity", 1).contains("all masses respond alike"));
}

class InfluenceHandleTest : public test::WindowTest {};

TEST_F(InfluenceHandleTest, MovesTheReachOfTheSelectedInfluence) {
  document().replace(
      with(withInfluence(starting(), "gravity", {"gravity.reach=sphere", "gravity.reach_position=0,2,0"}),
           {"camera.position=0,2,10", "camera.aim=0,2,0"}),
      {});
  document().select(scene().findByName("gravity")->id);
  window_.showPage(MainWindow::Shape);
  QApplication::processEvents();
  auto* viewport = test::child<Viewport>(window_, "viewport");
  const QPoint tip = viewport->handle(0).toPoint();
  test::drag(viewport, tip, tip + QPoint(60, 0));
  const Vec3d place = scene().findByName("gravity")->vector("reach_position", 1);
  EXPECT_GT(place.x, 0.2);
  EXPECT_NEAR(place.y, 2, 1e-3);
}

}  // namespace
}  // namespace comet
