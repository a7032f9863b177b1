#include "grid/influence_grid.h"

#include "app/driver.h"
#include "support/scenes.h"

#include <QPushButton>

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
  Response response(const char* emitter, const char* influence) {
    return scene().response(scene().findByName(emitter)->id, scene().findByName(influence)->id);
  }
  QPoint cell(int row, int column) { return grid_->cellRect(row, column).center(); }

  InfluenceGrid* grid_ = nullptr;
};

TEST_F(InfluenceGridTest, DraggingACellScrubsItsResponseInOneStep) {
  test::drag(grid_, cell(1, 0), cell(1, 0) - QPoint(50, 0));
  EXPECT_NEAR(*response("second", "gravity"), 50, 4);
  EXPECT_EQ(response("emitter", "gravity"), Response(100));
  document().undo();
  EXPECT_EQ(response("second", "gravity"), Response(100));
}

TEST_F(InfluenceGridTest, DoubleClickTypes) {
  QTest::mouseClick(grid_, Qt::LeftButton, Qt::NoModifier, cell(0, 1));
  QTest::mouseDClick(grid_, Qt::LeftButton, Qt::NoModifier, cell(0, 1));
  auto* editor = grid_->findChild<QLineEdit*>();
  ASSERT_TRUE(editor->isVisible());
  QTest::keyClicks(editor, "-35");
  QTest::keyClick(editor, Qt::Key_Return);
  EXPECT_EQ(response("emitter", "wind"), Response(-35));
}

TEST_F(InfluenceGridTest, KeyboardReachesEveryCell) {
  QTest::mouseClick(grid_, Qt::LeftButton, Qt::NoModifier, cell(0, 0));
  QTest::keyClick(grid_, Qt::Key_Down);
  QTest::keyClick(grid_, Qt::Key_Right);
  QTest::keyClick(grid_, Qt::Key_Delete);
  EXPECT_EQ(response("second", "wind"), std::nullopt);
  QTest::keyClick(grid_, Qt::Key_Plus);
  EXPECT_EQ(response("second", "wind"), Response(5));
}

TEST_F(InfluenceGridTest, HeadsSelectAndTheirMarksTurnOff) {
  QTest::mouseClick(grid_, Qt::LeftButton, Qt::NoModifier, grid_->columnHeadRect(1).center() + QPoint(0, 10));
  EXPECT_EQ(document().selected(), scene().findByName("wind")->id);
  QTest::mouseClick(grid_, Qt::LeftButton, Qt::NoModifier,
                    grid_->columnHeadRect(1).topLeft() + QPoint(28, 12));
  EXPECT_FALSE(scene().findByName("wind")->enabled);
  QTest::mouseClick(grid_, Qt::LeftButton, Qt::NoModifier, grid_->rowHeadRect(0).topLeft() + QPoint(14, 13));
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
  test::chooseFromMenu(test::child<QPushButton>(window_, "add_influence"), "Turbulence");
  EXPECT_EQ(scene().find(document().selected())->name, "turbulence");
}

}  // namespace
}  // namespace comet
