// Gases in the window: added, fed by sources, answered for in the grid, seen in the inspector and the
// viewport.
#include "app/driver.h"
#include "grid/influence_grid.h"
#include "inspector/gas_note.h"
#include "simulation/gas/gas_kind.h"
#include "simulation/gas/gas_source.h"
#include "support/scenes.h"
#include "viewport/viewport.h"

#include <QPushButton>
#include <QToolButton>

namespace comet {
namespace {

class GasRowsTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    Scene scene = test::withInfluence(test::withInfluence(test::starting(), "gravity"), "wind");
    document().replace(test::withInfluence(scene, "flock"), {});
    window_.showPage(MainWindow::Shape);
    QApplication::processEvents();
    grid_ = test::child<InfluenceGrid>(window_, "influence_grid");
  }
  void addGas() { test::click(test::child<QPushButton>(window_, "add_gas")); }
  std::optional<double> response(const char* row, const char* influence) {
    return scene().response(scene().findByName(row)->id, scene().findByName(influence)->id).percent;
  }
  // The columns are gravity, wind and flock; the rows the emitter, the gas and its source.
  QPoint cell(int row, int column) { return grid_->cellRect(row, column).center(); }

  InfluenceGrid* grid_ = nullptr;
};

TEST_F(GasRowsTest, OneClickMakesAGasWithASource) {
  addGas();
  EXPECT_EQ(scene().find(document().selected())->name, "gas");
  ASSERT_TRUE(scene().findByName("source"));
  EXPECT_EQ(scene().findByName("source")->reference("gas"), scene().findByName("gas")->id);
  document().undo();
  EXPECT_FALSE(scene().findByName("gas")) << "one click is one step";
  EXPECT_FALSE(scene().findByName("source"));
}

TEST_F(GasRowsTest, FlatGasesComeFromTheMenuBeside) {
  const auto choose = [this](const char* entry) {
    test::chooseFromMenu(test::child<QToolButton>(window_, "add_other_gas"), entry);
  };
  choose("Flat gas");
  const Scene::ItemPtr flat = scene().find(document().selected());
  EXPECT_TRUE(isFlat(*flat));
  document().undo();
  EXPECT_FALSE(scene().findByName("gas")) << "one click is one step";
  choose("Flat gas from a picture");
  const Scene::ItemPtr source = scene().find(document().selected());
  EXPECT_EQ(source->name, "source") << "which needs its picture";
  EXPECT_TRUE(source->chooses("shape", "picture"));
  EXPECT_TRUE(source->chooses("gives_color", "picture"));
  EXPECT_TRUE(scene().findByName("gas")->chooses("color_by", "source"));
}

TEST_F(GasRowsTest, FireComesFromTheMenuBesideAndBurns) {
  test::chooseFromMenu(test::child<QToolButton>(window_, "add_other_gas"), "Fire");
  const Scene::ItemPtr fire = scene().find(document().selected());
  EXPECT_EQ(fire->name, "fire");
  EXPECT_TRUE(burns(*fire));
  const auto problem = [this] { return problemWithSource(scene(), *scene().findByName("source"), 1); };
  EXPECT_EQ(problem(), "");
  EXPECT_TRUE(row("burn_rate")->isVisibleTo(&window_));
  document().setBase(fire->id, "burning", std::string("off"));
  QApplication::processEvents();
  EXPECT_FALSE(row("burn_rate")->isVisibleTo(&window_));
  EXPECT_NE(problem().find("turn on Burning"), std::string::npos);
}

TEST_F(GasRowsTest, SourcesAreDrawnInTheViewport) {
  addGas();
  document().select(scene().findByName("source")->id);
  document().setBase(document().selected(), "emits_by", std::string("strokes"));
  QApplication::processEvents();
  test::click(test::child<QPushButton>(*row("strokes"), "draw"));
  auto* viewport = test::child<Viewport>(window_, "viewport");
  const QPoint middle = viewport->rect().center();
  test::drag(viewport, middle - QPoint(80, 0), middle + QPoint(80, 10));
  const auto strokes = [this] {
    return std::get<StrokeList>(scene().findByName("source")->value("strokes").base).size();
  };
  EXPECT_EQ(strokes(), 1U);
  document().undo();
  EXPECT_EQ(strokes(), 0U) << "one drag is one step";
}

TEST_F(GasRowsTest, ItsRowHasCellsForWhatActsOnGas) {
  addGas();
  test::drag(grid_, cell(1, 1), cell(1, 1) - QPoint(40, 0));
  EXPECT_NEAR(*response("gas", "wind"), 60, 4);
  // Flocks are of particles: there is nothing to set.
  document().select(scene().findByName("emitter")->id);
  test::drag(grid_, cell(1, 2), cell(1, 2) - QPoint(40, 0));
  EXPECT_EQ(response("gas", "flock"), 100);
  test::drag(grid_, cell(2, 1), cell(2, 1) - QPoint(40, 0));
  EXPECT_EQ(response("source", "wind"), 100) << "sources do not move";
  EXPECT_EQ(scene().find(document().selected())->name, "emitter") << "and nothing was chosen";
}

TEST_F(GasRowsTest, KeysStepOverWhatHasNoCell) {
  addGas();
  QTest::mouseClick(grid_, Qt::LeftButton, Qt::NoModifier, cell(0, 2));
  QTest::keyClick(grid_, Qt::Key_Down);
  QTest::keyClick(grid_, Qt::Key_Plus);
  EXPECT_EQ(response("emitter", "flock"), 105) << "below it there is none";
  QTest::keyClick(grid_, Qt::Key_Left);
  QTest::keyClick(grid_, Qt::Key_Down);
  QTest::keyClick(grid_, Qt::Key_Delete);
  EXPECT_EQ(response("gas", "wind"), std::nullopt);
}

TEST_F(GasRowsTest, MoreSourcesComeFromTheMenuOfTheGas) {
  addGas();
  test::chooseFromContextMenu(grid_, grid_->rowHeadRect(1).center(), "Add source");
  EXPECT_EQ(scene().itemsOf(ItemFamily::Source).size(), 2U);
  EXPECT_EQ(scene().find(document().selected())->kind->family(), ItemFamily::Source);
  test::chooseFromContextMenu(grid_, grid_->rowHeadRect(1).center(), "Duplicate");
  EXPECT_EQ(scene().itemsOf(ItemFamily::Gas).size(), 2U);
  EXPECT_EQ(scene().itemsOf(ItemFamily::Source).size(), 4U);
  test::chooseFromContextMenu(grid_, grid_->rowHeadRect(1).center(), "Remove");
  EXPECT_EQ(scene().itemsOf(ItemFamily::Gas).size(), 1U);
  EXPECT_EQ(scene().itemsOf(ItemFamily::Source).size(), 2U) << "its sources go with it";
  document().undo();
  EXPECT_EQ(scene().itemsOf(ItemFamily::Source).size(), 4U);
}

TEST_F(GasRowsTest, TheInspectorSaysWhatItCostsBeforeAnythingRuns) {
  addGas();
  test::type(field("resolution"), "32");
  auto* note = test::child<NoteLabel>(inspector(), "gas_cost");
  EXPECT_TRUE(test::eventually([&] { return note->text().contains("21 × 32 × 21"); }))
      << note->text().toStdString();
  document().setBase(document().selected(), "preview_resolution", std::string("half"), {});
  EXPECT_TRUE(test::eventually([&] { return note->text().contains("the preview has 11 × 16 × 11"); }))
      << note->text().toStdString();
  // Far too much is said at once, with what would fit.
  document().setBase(document().selected(), "size", Vec3d(50.0), {});
  test::type(field("resolution"), "1024");
  EXPECT_TRUE(test::eventually([&] { return note->text().contains("lower the resolution to"); }))
      << note->text().toStdString();
}

TEST_F(GasRowsTest, GasThatIsCutOffIsGivenRoomByAButton) {
  addGas();
  const ItemId gas = document().selected();
  document().setBase(gas, "resolution", 16.0, {});
  document().setBase(gas, "size", Vec3d(4, 1.5, 4), {});
  document().setBase(scene().findByName("source")->id, "position", Vec3d(0, 2.6, 0), {});
  auto* button = test::child<QPushButton>(inspector(), "enlarge_box");
  ASSERT_TRUE(test::eventually([&] { return button->isVisible(); }));
  test::click(button);
  EXPECT_GT(scene().find(gas)->vector("size", 1).y, 1.8);
  document().undo();
  EXPECT_EQ(scene().find(gas)->vector("size", 1).y, 1.5);
}

TEST_F(GasRowsTest, SourcesSayWhyTheyGiveNothing) {
  addGas();
  document().select(scene().findByName("source")->id);
  auto* note = test::child<NoteLabel>(inspector(), "source_problem");
  EXPECT_TRUE(test::eventually([&] { return note->text().isEmpty(); }));
  document().setBase(document().selected(), "position", Vec3d(0, 50, 0), {});
  EXPECT_TRUE(test::eventually([&] { return note->text().contains("outside"); }))
      << note->text().toStdString();
}

TEST_F(GasRowsTest, SoloShowsTheGasAlone) {
  addGas();
  test::chooseFromContextMenu(grid_, grid_->rowHeadRect(1).center(), "Solo");
  EXPECT_FALSE(document().drawnScene().findByName("emitter")->enabled);
  EXPECT_TRUE(document().drawnScene().findByName("gas")->enabled);
}

}  // namespace
}  // namespace comet
