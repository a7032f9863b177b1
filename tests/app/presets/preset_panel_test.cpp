// Presets found, added, dropped and kept in the real window.
#include "presets/preset_panel.h"

#include "app/driver.h"
#include "grid/influence_grid.h"
#include "presets/preset_tiles.h"
#include "support/scenes.h"
#include "viewport/viewport.h"

#include <QComboBox>
#include <QMimeData>
#include <QPushButton>
#include <QToolButton>

namespace comet {
namespace {

class PresetPanelTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    newSceneAtRest();
    test::click(test::child<QToolButton>(window_, "add_preset"));
    tiles_ = test::child<PresetTiles>(window_, "preset_tiles");
    ASSERT_TRUE(test::eventually([this] { return tiles_->count() > 30; }));
    QApplication::processEvents();
  }
  QWidget* panel() { return test::child<QWidget>(window_, "preset_panel"); }
  void search(const QString& words) {
    auto* field = test::child<QLineEdit>(window_, "preset_search");
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, words);
  }
  void clickTile(const QString& name) {
    ASSERT_TRUE(test::eventually([&] { return !tiles_->tileOf(name).isNull(); })) << name.toStdString();
    test::click(tiles_, tiles_->tileOf(name).center());
  }
  void drop(const QString& name, const QPoint& place) {
    ASSERT_TRUE(test::eventually([&] { return !tiles_->dragged(name).isEmpty(); })) << name.toStdString();
    QMimeData carried;
    carried.setData(PresetTiles::kMimeType, tiles_->dragged(name));
    test::drop(window_.viewport(), carried, place);
  }

  PresetTiles* tiles_ = nullptr;
};

TEST_F(PresetPanelTest, OneClickAddsOneWithItsInfluencesInOneStep) {
  const Scene before = scene();
  search("weld");
  clickTile("sparks");
  EXPECT_TRUE(scene().findByName("sparks"));
  EXPECT_TRUE(scene().findByName("ground"));
  EXPECT_EQ(document().selected(), scene().findByName("sparks")->id);
  EXPECT_TRUE(panel()->isVisible()) << "another one may be wanted";
  document().undo();
  EXPECT_EQ(scene(), before);
}

TEST_F(PresetPanelTest, SearchAndCategoryNarrowThem) {
  const std::size_t all = tiles_->count();
  search("snow");
  EXPECT_GE(tiles_->count(), 1U);
  EXPECT_LT(tiles_->count(), all / 4);
  EXPECT_FALSE(tiles_->tileOf("salt flakes").isNull()) << "by words of the trade";
  search("zzzz");
  EXPECT_EQ(tiles_->count(), 0U);
  auto* field = test::child<QLineEdit>(window_, "preset_search");
  field->clear();
  auto* category = test::child<QComboBox>(window_, "preset_category");
  category->setCurrentText("Water");
  Q_EMIT category->activated(category->currentIndex());
  EXPECT_FALSE(tiles_->tileOf("fountain").isNull());
  EXPECT_TRUE(tiles_->tileOf("gnats").isNull());
}

TEST_F(PresetPanelTest, KeysChooseToo) {
  search("ripples");
  auto* field = test::child<QLineEdit>(window_, "preset_search");
  QTest::keyClick(field, Qt::Key_Return);
  EXPECT_TRUE(tiles_->hasFocus());
  QTest::keyClick(tiles_, Qt::Key_Return);
  EXPECT_TRUE(scene().findByName("rings"));
  QTest::keyClick(tiles_, Qt::Key_Escape);
  EXPECT_FALSE(panel()->isVisible());
  EXPECT_TRUE(test::child<QWidget>(window_, "inspector")->isVisible());
}

TEST_F(PresetPanelTest, TheirPicturesAreDrawnAndMoveBelowThePointer) {
  search("fountain");
  ASSERT_TRUE(test::eventually([this] { return tiles_->isDrawn("fountain"); }));
  const QRect tile = tiles_->tileOf("fountain");
  const auto seen = [&] { return tiles_->grab(tile).toImage(); };
  const QImage still = seen();
  QTest::qWait(200);
  EXPECT_EQ(seen(), still);
  QTest::mouseMove(tiles_, tile.center());
  EXPECT_TRUE(test::eventually([&] { return seen() != still; }));
  const QImage now = seen();
  EXPECT_TRUE(test::eventually([&] { return seen() != now; }));
}

TEST_F(PresetPanelTest, DroppedOnTheGroundItStandsThere) {
  window_.viewport().look(ViewKind::Top);
  const QPoint middle = window_.viewport().rect().center();
  drop("torch flame", middle + QPoint(0, 60));
  const Vec3d place = scene().findByName("flame")->vector("position", 1);
  EXPECT_NEAR(place.x, 0, 0.1);
  EXPECT_EQ(place.y, 0);
  EXPECT_GT(place.z, 0.1) << "nearer to whoever looks from the front";
}

TEST_F(PresetPanelTest, DroppedOnAMeshItIsBornOnIt) {
  window_.openDemo("paddle_spray");
  EXPECT_FALSE(panel()->isVisible()) << "another scene ends the choice";
  test::click(test::child<QToolButton>(window_, "add_preset"));
  for (const char* inFront : {"wheel", "drops", "mist"}) document().remove(scene().findByName(inFront)->id);
  const Item& hull = *scene().findByName("hull");
  document().select(hull.id);
  const QPoint centre = window_.viewport().handle(-1).toPoint();
  test::click(test::child<QToolButton>(window_, "add_preset"));
  drop("torch flame", centre);
  const Item& flame = *scene().findByName("flame");
  EXPECT_TRUE(flame.chooses("shape", "mesh"));
  EXPECT_EQ(std::get<FileRef>(flame.value("mesh").base).path, "sample:ferry_hull.obj");
  EXPECT_EQ(flame.vector("position", 1), hull.vector("position", 1));
}

TEST_F(PresetPanelTest, AnEmitterIsKeptAmongTheUsersOwnAndForgotten) {
  document().setBase(scene().findByName("emitter")->id, "rate", 321.0);
  auto* grid = test::child<InfluenceGrid>(window_, "influence_grid");
  test::chooseFromContextMenu(grid, grid->rowHeadRect(0).center(), "Save as preset");
  test::click(test::child<QToolButton>(window_, "add_preset"));
  auto* category = test::child<QComboBox>(window_, "preset_category");
  ASSERT_TRUE(test::eventually([&] { return category->findText(ownCategory()) >= 0; }));
  clickTile("emitter");
  ASSERT_EQ(scene().itemsOf(ItemFamily::Emitter).size(), 2U);
  EXPECT_EQ(scene().itemsOf(ItemFamily::Emitter)[1]->number("rate", 1), 321);
  test::chooseFromContextMenu(tiles_, tiles_->tileOf("emitter").center(), "Forget");
  EXPECT_TRUE(test::eventually([&] { return category->findText(ownCategory()) < 0; }));
}

}  // namespace
}  // namespace comet
