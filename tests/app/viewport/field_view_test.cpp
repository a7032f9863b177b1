// Fields and paths in the real window: strokes drawn by hand, arrows, ways of keyed things, solo.
#include "app/driver.h"
#include "grid/influence_grid.h"
#include "io/picture_file.h"
#include "io/volume_file.h"
#include "simulation/gas/gas_source.h"
#include "support/files.h"
#include "support/scenes.h"
#include "viewport/viewport.h"

#include <QLabel>
#include <QMimeData>
#include <glm/geometric.hpp>

namespace comet {
namespace {

class FieldViewTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    window_.showPage(MainWindow::Shape);
    show(test::withInfluence(test::starting(), "field", {"field.source=strokes", "field.position=0,2,0"}),
         "field");
    viewport_ = test::child<Viewport>(window_, "viewport");
  }
  void show(const Scene& scene, const char* selected) {
    document().replace(scene, {});
    document().select(document().scene().findByName(selected)->id);
    QApplication::processEvents();
  }
  const StrokeList& strokes() {
    return std::get<StrokeList>(scene().findByName("field")->value("strokes").base);
  }
  void startDrawing() { test::click(test::child<QPushButton>(*row("strokes"), "draw")); }
  QPoint middle() { return viewport_->rect().center(); }
  // Drops a file and chooses what to do with it.
  void drop(const std::filesystem::path& file, const char* entry) {
    QMimeData data;
    data.setUrls({QUrl::fromLocalFile(QString::fromStdString(file.string()))});
    test::chooseInNextMenu(entry);
    test::drop(*viewport_, data, middle());
  }
  QImage picture() {
    QApplication::processEvents();
    return viewport_->grab().toImage();
  }

  Viewport* viewport_ = nullptr;
};

TEST_F(FieldViewTest, AStrokeIsDrawnWhereThePointerGoes) {
  startDrawing();
  EXPECT_TRUE(document().isDrawing());
  const QPoint from = middle() - QPoint(90, 20), to = middle() + QPoint(80, 30);
  test::drag(viewport_, from, to);
  ASSERT_EQ(strokes().size(), 1U);
  const std::size_t last = strokes()[0].size() - 1;
  EXPECT_LT((viewport_->strokePoint(0, 0) - from).manhattanLength(), 2);
  EXPECT_LT((viewport_->strokePoint(0, last) - to).manhattanLength(), 2);
  EXPECT_EQ(strokes()[0].size(), 2U) << "a straight drag needs its ends only";
  // A click alone draws nothing, and the field flows where it was drawn.
  test::click(viewport_, middle());
  EXPECT_EQ(strokes().size(), 1U);
  test::drag(viewport_, from + QPoint(0, 60), to + QPoint(0, 60));
  EXPECT_EQ(strokes().size(), 2U);
  document().undo();
  EXPECT_EQ(strokes().size(), 1U) << "each stroke is one step";
  test::click(test::child<QPushButton>(*row("strokes"), "remove_last"));
  EXPECT_TRUE(strokes().empty());
}

TEST_F(FieldViewTest, PointsAreMovedAndTakenAway) {
  show(test::with(scene(), {"field.strokes=[[[-1,0,0],[0,0.5,0],[1,0,0]]]"}), "field");
  const QPoint point = viewport_->strokePoint(0, 1).toPoint();
  test::drag(viewport_, point, point + QPoint(0, -40));
  EXPECT_GT(strokes()[0][1].y, 0.7);
  EXPECT_NEAR(strokes()[0][1].x, 0, 0.05);
  document().undo();
  EXPECT_EQ(strokes()[0][1], Vec3d(0, 0.5, 0));
  QTest::mouseDClick(viewport_, Qt::LeftButton, Qt::NoModifier, point);
  EXPECT_EQ(strokes()[0].size(), 2U);
  QTest::mouseDClick(viewport_, Qt::LeftButton, Qt::NoModifier, viewport_->strokePoint(0, 0).toPoint());
  EXPECT_TRUE(strokes().empty()) << "one point is no stroke";
}

TEST_F(FieldViewTest, DrawingEndsWithTheSelection) {
  startDrawing();
  document().select(scene().findByName("emitter")->id);
  EXPECT_FALSE(document().isDrawing());
  const Scene before = scene();
  test::drag(viewport_, middle(), middle() + QPoint(60, 10));
  EXPECT_EQ(scene(), before) << "it orbits again";
}

TEST_F(FieldViewTest, ArrowsShowWhereTheFieldFlows) {
  show(test::with(scene(), {"field.strokes=[[[-1,0,0],[0,0.5,0],[1,0,0]]]", "emitter.rate=0"}), "field");
  EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
  const QImage without = picture();
  test::chooseFromMenu(test::child<QPushButton>(window_, "overlay"), "Field arrows in a box");
  EXPECT_EQ(viewport_->sceneOverlay().field, FieldArrows::Box);
  const QImage with = picture();
  EXPECT_NE(with, without);
  test::chooseFromMenu(test::child<QPushButton>(window_, "overlay"), "Field arrows on a slice");
  EXPECT_NE(picture(), with);
  test::chooseFromMenu(test::child<QPushButton>(window_, "overlay"), "No field arrows");
  EXPECT_EQ(picture(), without);
}

TEST_F(FieldViewTest, TheFlipbooksFrameIsAsWideAsItsCells) {
  show(test::with(scene(), {"flipbook.cell_width=64", "flipbook.cell_height=128", "emitter.rate=0"}),
       "emitter");
  const QImage without = picture();
  test::chooseFromMenu(test::child<QPushButton>(window_, "overlay"), "Flipbook cell frame");
  const QImage with = picture();
  // Half as wide as high: what lies beyond is dimmed, what lies within is not.
  const int y = viewport_->height() / 2, half = viewport_->height() / 4;
  EXPECT_NE(with.pixel(middle().x() - half - 30, y), without.pixel(middle().x() - half - 30, y));
  EXPECT_EQ(with.pixel(middle().x() - half + 30, y + 40), without.pixel(middle().x() - half + 30, y + 40));
}

TEST_F(FieldViewTest, KeysOfAWayAreMovedInTheViewport) {
  show(test::with(test::starting(),
                  {R"(emitter.position={"keys":[{"frame":1,"value":[-1,1,0]},{"frame":30,"value":[1,3,0]}]})",
                   "emitter.rate=0"}),
       "emitter");
  document().setFrame(15);
  const QPoint key = viewport_->motionKey("position", 1).toPoint();
  test::drag(viewport_, key, key + QPoint(40, 0));
  const KeyTrack& keys = scene().findByName("emitter")->value("position").keys;
  ASSERT_EQ(keys.size(), 2U);
  EXPECT_EQ(keys[1].frame, 30);
  EXPECT_GT(std::get<Vec3d>(keys[1].value).x, 1.2);
  EXPECT_NEAR(std::get<Vec3d>(keys[1].value).y, 3, 0.05);
  EXPECT_EQ(std::get<Vec3d>(keys[0].value), Vec3d(-1, 1, 0));
  document().undo();
  EXPECT_EQ(std::get<Vec3d>(scene().findByName("emitter")->value("position").keys[1].value), Vec3d(1, 3, 0));
}

TEST_F(FieldViewTest, AnInfluenceAloneActsWhileItIsSolo) {
  Scene both = test::withInfluence(test::oneBurst(), "gravity", {"gravity.strength=10"});
  both = test::withInfluence(both, "wind", {"wind.speed=50"});
  show(both, "emitter");
  auto* grid = test::child<InfluenceGrid>(window_, "influence_grid");
  const auto velocityAt = [this](int frame) {
    EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
    return test::velocityOf(test::onlyGroup(window_.backgroundRun().frame(frame)), 0);
  };
  const Vec3d all = velocityAt(20);
  EXPECT_GT(all.x, 1);
  test::chooseFromContextMenu(grid, grid->columnHeadRect(0).center(), "Solo");
  EXPECT_NEAR(velocityAt(20).x, 0, 1e-9);
  EXPECT_LT(velocityAt(20).y, 0);
  EXPECT_TRUE(scene().findByName("wind")->enabled) << "the scene stays as it is";
  test::chooseFromContextMenu(grid, grid->columnHeadRect(0).center(), "End solo");
  EXPECT_EQ(velocityAt(20), all);
}

TEST_F(FieldViewTest, AVolumeThatIsDroppedBecomesAField) {
  const test::TemporaryFolder folder;
  VectorVolume volume;
  volume.name = "breeze";
  volume.grid = VectorGrid({2, 2, 2});
  for (int i = 0; i < 8; ++i) volume.grid.at(i & 1, i >> 1 & 1, i >> 2) = Vec3(1, 0, 0);
  writeVectorVolume(folder / "breeze.vdb", volume);
  const Scene before = scene();
  drop(folder / "breeze.vdb", "As a vector field");
  const Scene::ItemPtr field = scene().find(document().selected());
  ASSERT_EQ(field->kind->id(), "field");
  EXPECT_TRUE(field->chooses("source", "file"));
  EXPECT_TRUE(test::eventually(
      [&] { return std::get<FileRef>(scene().find(field->id)->value("volume").base).content != nullptr; }));
  EXPECT_NE(test::child<QLabel>(*row("volume"), "note")->text().indexOf("breeze: 2 × 2 × 2"), -1);
  document().undo();
  EXPECT_EQ(scene(), before) << "one drop is one step";
}

TEST_F(FieldViewTest, APictureThatIsDroppedFlowsAsGas) {
  const test::TemporaryFolder folder;
  Picture picture(32, 32);
  for (int y = 8; y < 24; ++y)
    for (int x = 8; x < 24; ++x) picture.at(x, y) = Vec4(1, 0.5F, 0.1F, 1);
  writePicture(folder / "ember.png", picture, PictureFormat::Png8, PictureChannels::Rgba);
  const Scene before = scene();
  drop(folder / "ember.png", "As flat gas");
  const Scene::ItemPtr source = scene().find(document().selected());
  ASSERT_EQ(source->kind->id(), "source");
  EXPECT_TRUE(test::eventually([&] {
    return std::get<FileRef>(scene().find(source->id)->value("birth_picture").base).content != nullptr;
  }));
  EXPECT_EQ(problemWithSource(scene(), *scene().find(source->id), 1), "");
  document().undo();
  EXPECT_EQ(scene(), before) << "one drop is one step";
}

TEST_F(FieldViewTest, ACellTakesAFormulaForEachParticle) {
  show(test::withInfluence(test::oneBurst(10), "gravity", {"gravity.strength=10"}), "emitter");
  auto* grid = test::child<InfluenceGrid>(window_, "influence_grid");
  const auto response = [this] {
    return scene().response(scene().findByName("emitter")->id, scene().findByName("gravity")->id);
  };
  test::click(grid, grid->cellRect(0, 0).center());
  QTest::keyClicks(grid, "=");
  auto* editor = grid->findChild<QLineEdit*>();
  ASSERT_TRUE(editor->isVisible());
  QTest::keyClicks(editor, "50 * shore");
  QTest::keyClick(editor, Qt::Key_Return);
  EXPECT_TRUE(editor->isVisible()) << "a wrong one stays to be fixed";
  EXPECT_EQ(editor->cursorPosition(), 6) << editor->text().toStdString();
  EXPECT_EQ(response().formula, "");
  editor->setText("=50 * age_fraction");
  QTest::keyClick(editor, Qt::Key_Return);
  EXPECT_FALSE(editor->isVisible());
  EXPECT_EQ(response().formula, "50 * age_fraction");
  EXPECT_EQ(response().percent, 100);
  // A number takes its place.
  QTest::keyClicks(grid, "7");
  QTest::keyClick(editor, Qt::Key_Return);
  EXPECT_EQ(response(), Response{7});
}

}  // namespace
}  // namespace comet
