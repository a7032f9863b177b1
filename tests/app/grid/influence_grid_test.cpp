#include "grid/influence_grid.h"

#include "app/driver.h"
#include "simulation/influences/influences.h"
#include "support/scenes.h"
#include "theme/theme.h"

#include <QCheckBox>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QToolButton>

namespace comet {
namespace {

class InfluenceGridTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    Scene scene = test::withInfluence(test::withInfluence(test::starting(), "gravity"), "wind");
    document().replace(scene.withAdded(newItem(*catalog().find("emitter"), "second")), {});
    window_.showPage(MainWindow::Shape);
    QApplication::processEvents();
    grid_ = test::child<InfluenceGrid>(window_, "influence_grid");
  }
  std::optional<double> response(const char* emitter, const char* influence) {
    return scene().response(scene().findByName(emitter)->id, scene().findByName(influence)->id).percent;
  }
  QPoint cell(int row, int column) { return grid_->cellRect(row, column).center(); }

  InfluenceGrid* grid_ = nullptr;
};

TEST_F(InfluenceGridTest, EveryKindHasAMarkOfItsOwn) {
  for (const InfluenceKind& kind : influenceKinds())
    EXPECT_TRUE(theme::hasMark(QString::fromStdString(kind.spec.id()))) << kind.spec.id();
}

TEST_F(InfluenceGridTest, DraggingACellScrubsItsResponseInOneStep) {
  test::drag(grid_, cell(1, 0), cell(1, 0) - QPoint(50, 0));
  EXPECT_NEAR(*response("second", "gravity"), 50, 4);
  EXPECT_EQ(response("emitter", "gravity"), 100);
  document().undo();
  EXPECT_EQ(response("second", "gravity"), 100);
}

TEST_F(InfluenceGridTest, DoubleClickTypes) {
  QTest::mouseClick(grid_, Qt::LeftButton, Qt::NoModifier, cell(0, 1));
  QTest::mouseDClick(grid_, Qt::LeftButton, Qt::NoModifier, cell(0, 1));
  auto* editor = grid_->findChild<QLineEdit*>();
  ASSERT_TRUE(editor->isVisible());
  QTest::keyClicks(editor, "-35");
  QTest::keyClick(editor, Qt::Key_Return);
  EXPECT_EQ(response("emitter", "wind"), -35);
}

TEST_F(InfluenceGridTest, KeyboardReachesEveryCell) {
  QTest::mouseClick(grid_, Qt::LeftButton, Qt::NoModifier, cell(0, 0));
  QTest::keyClick(grid_, Qt::Key_Down);
  QTest::keyClick(grid_, Qt::Key_Right);
  QTest::keyClick(grid_, Qt::Key_Delete);
  EXPECT_EQ(response("second", "wind"), std::nullopt);
  QTest::keyClick(grid_, Qt::Key_Plus);
  EXPECT_EQ(response("second", "wind"), 5);
}

TEST_F(InfluenceGridTest, HeadsSelectAndTheirSwitchesTurnOff) {
  QTest::mouseClick(grid_, Qt::LeftButton, Qt::NoModifier, grid_->columnHeadRect(1).center() + QPoint(0, 10));
  EXPECT_EQ(document().selected(), scene().findByName("wind")->id);
  EXPECT_TRUE(scene().findByName("wind")->enabled);
  test::click(grid_, grid_->switchRect(grid_->columnHeadRect(1)).center());
  EXPECT_FALSE(scene().findByName("wind")->enabled);
  test::click(grid_, grid_->rowHeadRect(0).topLeft() + QPoint(14, 13));
  EXPECT_TRUE(scene().findByName("emitter")->enabled) << "the mark selects";
  test::click(grid_, grid_->switchRect(grid_->rowHeadRect(0)).center());
  EXPECT_FALSE(scene().findByName("emitter")->enabled);
}

TEST_F(InfluenceGridTest, DraggingAHeadMovesIt) {
  test::drag(grid_, grid_->columnHeadRect(0).center(), grid_->columnHeadRect(1).center());
  EXPECT_EQ(scene().itemsOf(ItemFamily::Influence).front()->name, "wind");
}

TEST_F(InfluenceGridTest, StaysWholeAtTwelveBySixteen) {
  Scene big = test::starting();
  for (int i = 0; i < 16; ++i)
    big = big.withAdded(newItem(*catalog().find("wind"), "wind " + std::to_string(i)));
  for (int i = 1; i < 12; ++i)
    big = big.withAdded(newItem(*catalog().find("emitter"), "emitter " + std::to_string(i)));
  document().replace(big, {});
  QApplication::processEvents();
  EXPECT_GE(grid_->width(), grid_->cellRect(11, 15).right());
  EXPECT_GE(grid_->height(), grid_->cellRect(11, 15).bottom());
  QTest::mouseClick(grid_, Qt::LeftButton, Qt::NoModifier, cell(11, 15));
  QTest::keyClick(grid_, Qt::Key_Delete);
  EXPECT_EQ(response("emitter 11", "wind 15"), std::nullopt);
}

TEST_F(InfluenceGridTest, AddedItemsAppearAndAreSelected) {
  test::click(test::child<QPushButton>(window_, "add_emitter"));
  EXPECT_EQ(scene().itemsOf(ItemFamily::Emitter).size(), 3U);
  test::addInfluence(window_, "turb");
  EXPECT_EQ(scene().find(document().selected())->name, "turbulence");
}

TEST_F(InfluenceGridTest, AnInfluenceIsFoundByWhatItDoesAndMayBeForOneEmitterOnly) {
  document().select(scene().findByName("second")->id);
  test::click(test::child<QPushButton>(window_, "add_influence"));
  test::child<QCheckBox>(window_, "influence_only_selected")->click();
  auto* search = test::child<QLineEdit>(window_, "influence_search");
  QTest::keyClicks(search, "to a point, a line");
  QTest::keyClick(search, Qt::Key_Return);
  EXPECT_EQ(scene().find(document().selected())->name, "attractor");
  EXPECT_EQ(response("second", "attractor"), 100);
  EXPECT_EQ(response("emitter", "attractor"), std::nullopt);
}

TEST_F(InfluenceGridTest, ARangeOfCellsIsScrubbedTogetherEachFromItsOwnNumber) {
  document().edit(
      scene().withResponse(scene().findByName("second")->id, scene().findByName("wind")->id, {20}), {});
  QTest::mouseClick(grid_, Qt::LeftButton, Qt::NoModifier, cell(0, 1));
  QTest::mouseClick(grid_, Qt::LeftButton, Qt::ShiftModifier, cell(1, 1));
  test::drag(grid_, cell(0, 1), cell(0, 1) - QPoint(30, 0));
  EXPECT_NEAR(*response("emitter", "wind"), 70, 4);
  EXPECT_NEAR(*response("emitter", "wind") - *response("second", "wind"), 80, 1e-9);
  EXPECT_EQ(response("second", "gravity"), 100) << "not in the range";
  document().undo();
  EXPECT_EQ(response("emitter", "wind"), 100) << "one drag is one step";
  QTest::keyClick(grid_, Qt::Key_Delete);
  EXPECT_EQ(response("emitter", "wind"), std::nullopt);
  EXPECT_EQ(response("second", "wind"), std::nullopt);
}

TEST_F(InfluenceGridTest, ShiftAndArrowsExtendTheRange) {
  QTest::mouseClick(grid_, Qt::LeftButton, Qt::NoModifier, cell(0, 0));
  QTest::keyClick(grid_, Qt::Key_Right, Qt::ShiftModifier);
  QTest::keyClick(grid_, Qt::Key_Down, Qt::ShiftModifier);
  QTest::keyClick(grid_, Qt::Key_4);
  QTest::keyClicks(QApplication::focusWidget(), "2");
  QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
  for (const char* emitter : {"emitter", "second"})
    for (const char* influence : {"gravity", "wind"}) EXPECT_EQ(response(emitter, influence), 42);
}

TEST_F(InfluenceGridTest, HeadsStayInSightWhenTheGridIsScrolled) {
  for (int i = 0; i < 16; ++i)
    document().edit(scene().withAdded(newItem(*catalog().find("drag"), "drag " + std::to_string(i))), {});
  for (int i = 0; i < 12; ++i)
    document().edit(scene().withAdded(newItem(*catalog().find("emitter"), "more " + std::to_string(i))), {});
  QApplication::processEvents();
  auto* area = qobject_cast<QScrollArea*>(grid_->parentWidget()->parentWidget());
  ASSERT_TRUE(area);
  area->horizontalScrollBar()->setValue(300);
  area->verticalScrollBar()->setValue(120);
  // A click at the left edge of what is seen is one on a row's head.
  const QPoint seen(20, 150);
  const QPoint inGrid = grid_->mapFrom(area->viewport(), seen);
  QTest::mouseClick(grid_, Qt::LeftButton, Qt::NoModifier, inGrid);
  const Scene::ItemPtr selected = scene().find(document().selected());
  ASSERT_TRUE(selected);
  EXPECT_EQ(selected->kind->family(), ItemFamily::Emitter);
  const int row = (inGrid.y() - grid_->cellRect(0, 0).top()) / grid_->cellRect(0, 0).height();
  EXPECT_EQ(selected->id, scene().itemsOf(ItemFamily::Emitter)[static_cast<std::size_t>(row)]->id);
}

TEST_F(InfluenceGridTest, AResponseGetsACourseOverAge) {
  test::chooseFromContextMenu(grid_, cell(0, 0), "Over age…");
  test::click(test::child<QToolButton>(window_, "preset.response.fade_out"));
  const auto course = [this] {
    return scene().response(scene().findByName("emitter")->id, scene().findByName("gravity")->id);
  };
  ASSERT_TRUE(course().overAge);
  EXPECT_EQ(course().percent, 100);
  EXPECT_LT(course().overAge->at(1), 0.01);
  test::click(test::child<QPushButton>(window_, "response_same"));
  EXPECT_FALSE(course().overAge);
}

TEST_F(InfluenceGridTest, ARowIsCopiedToAnotherEmitter) {
  document().edit(
      scene().withResponse(scene().findByName("emitter")->id, scene().findByName("wind")->id, {-35}), {});
  test::chooseFromContextMenu(grid_, grid_->rowHeadRect(0).center(), "Copy responses");
  test::chooseFromContextMenu(grid_, grid_->rowHeadRect(1).center(), "Paste responses");
  EXPECT_EQ(response("second", "wind"), -35);
  EXPECT_EQ(response("second", "gravity"), 100);
}

}  // namespace
}  // namespace comet
