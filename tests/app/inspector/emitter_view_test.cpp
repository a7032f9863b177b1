// Everything that an emitter can be, made and read in the real window.
#include "app/driver.h"
#include "controls/curve_lane.h"
#include "controls/mask_editor.h"
#include "grid/influence_grid.h"
#include "inspector/births_note.h"
#include "io/picture_content.h"
#include "io/picture_file.h"
#include "render/look.h"
#include "simulation/start_state.h"
#include "support/files.h"
#include "support/scenes.h"
#include "viewport/viewport.h"

#include <QComboBox>
#include <QContextMenuEvent>
#include <QLabel>
#include <QMimeData>
#include <QPushButton>
#include <QSettings>
#include <QStandardPaths>
#include <QToolButton>
#include <fstream>

namespace comet {
namespace {

class EmitterViewTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    newSceneAtRest();
    ASSERT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
  }

  const Item& emitter() { return *scene().find(document().selectedEmitter()); }

  void choose(const char* param, const QString& label) {
    auto* box = row(param)->findChild<QComboBox*>("choice");
    ASSERT_TRUE(box);
    const int index = box->findText(label);
    ASSERT_GE(index, 0) << label.toStdString();
    box->setFocus();
    // As a user does: by the keyboard, one entry at a time.
    while (box->currentIndex() != index)
      QTest::keyClick(box, box->currentIndex() < index ? Qt::Key_Down : Qt::Key_Up);
  }

  void typePath(const char* param, const std::filesystem::path& path) {
    auto* line = row(param)->findChild<QLineEdit*>("path");
    line->setFocus();
    line->selectAll();
    QTest::keyClicks(line, QString::fromStdString(path.string()));
    QTest::keyClick(line, Qt::Key_Return);
  }

  // 40 × 20 pixels, white.
  std::filesystem::path picture() {
    Picture made(40, 20);
    for (int y = 0; y < 20; ++y)
      for (int x = 0; x < 40; ++x) made.at(x, y) = Vec4(1.0F);
    writePicture(folder_ / "white.png", made, PictureFormat::Png8, PictureChannels::Rgba);
    return folder_ / "white.png";
  }

  std::filesystem::path box() {
    std::ofstream(folder_ / "box.obj") << "g lid\nv 0 5 0\nv 0 5 2\nv 2 5 2\nv 2 5 0\nf 1 2 3 4\n"
                                          "g base\nv 0 1 0\nv 0 1 2\nv 2 1 2\nv 2 1 0\nf 8 7 6 5\n";
    return folder_ / "box.obj";
  }

  std::size_t livingAt(int frame) {
    EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
    return window_.backgroundRun().frame(frame)->report->stats.living;
  }

  // The entry of the context menu of the first emitter's head.
  void chooseFromHead(const QString& entry) {
    auto* grid = test::child<InfluenceGrid>(window_, "influence_grid");
    test::chooseFromContextMenu(grid, grid->rowHeadRect(0).center(), entry);
  }

  test::TemporaryFolder folder_;
};

TEST_F(EmitterViewTest, AMeshIsChosenMeasuredFittedAndStood) {
  choose("shape", "Mesh");
  const auto problem = [this] { return test::child<QLabel>(window_, "shape_problem")->text(); };
  EXPECT_TRUE(test::eventually([&] { return problem().contains("choose one"); }));
  EXPECT_EQ(livingAt(20), 0U);
  typePath("mesh", box());
  ASSERT_TRUE(test::eventually(
      [this] { return std::get<FileRef>(emitter().value("mesh").base).content != nullptr; }));
  EXPECT_TRUE(test::eventually([&] { return problem().isEmpty(); }));
  EXPECT_GT(livingAt(20), 0U);
  EXPECT_TRUE(test::eventually(
      [this] { return test::child<QLabel>(window_, "mesh_size")->text().startsWith("2 × 4 × 2"); }));
  test::click(test::child<QPushButton>(window_, "mesh_ground"));
  EXPECT_NEAR(emitter().vector("position", 1).y, -1, 1e-9);
  test::click(test::child<QPushButton>(window_, "mesh_fit"));
  // Half of what the starting camera sees: 10 units away at 40°.
  EXPECT_NEAR(emitter().vector("scale", 1).x * 4, 10 * std::tan(radians(20)), 1e-6);
  // A named part: births on the lid only.
  auto* part = row("mesh_part")->findChild<QComboBox*>("text");
  EXPECT_GE(part->findText("lid"), 0);
  part->lineEdit()->selectAll();
  QTest::keyClicks(part->lineEdit(), "lid");
  QTest::keyClick(part->lineEdit(), Qt::Key_Return);
  EXPECT_EQ(emitter().choice("mesh_part"), "lid");
  choose("mesh_emit_from", "Inside");
  EXPECT_TRUE(test::eventually([&] { return problem().contains("not closed"); }));
}

TEST_F(EmitterViewTest, AMissingFileIsToldInTheBarAndMendedInItsField) {
  choose("sprite", "Picture");
  typePath("picture", folder_ / "gone.png");
  auto* bar = test::child<QLabel>(window_, "problem");
  EXPECT_TRUE(test::eventually([bar] { return bar->toolTip().contains("gone.png"); }));
  const auto note = [this] { return row("picture")->findChild<QLabel*>("note")->text(); };
  EXPECT_TRUE(test::eventually([&] { return note().contains("gone.png"); }));
  typePath("picture", picture());
  EXPECT_TRUE(test::eventually([bar] { return bar->text().isEmpty(); }));
  EXPECT_TRUE(test::eventually([&] { return note() == "40 × 20 pixels"; })) << note().toStdString();
}

TEST_F(EmitterViewTest, AMaskIsDrawnRoundedAndItsPivotDragged) {
  choose("sprite", "Picture");
  typePath("picture", picture());
  ASSERT_TRUE(test::eventually(
      [this] { return std::get<FileRef>(emitter().value("picture").base).content != nullptr; }));
  auto* editor = test::child<MaskEditor>(window_, "mask_editor");
  const auto click = [editor](double x, double y, Qt::MouseButton button = Qt::LeftButton) {
    QTest::mouseClick(editor, button, Qt::NoModifier, editor->place({x, y}).toPoint());
  };
  const auto mask = [this] { return std::get<OutlinePoints>(emitter().value("mask").base); };
  click(0.1, 0.1);
  click(0.9, 0.1);
  EXPECT_TRUE(mask().empty()) << "two points are no mask";
  click(0.9, 0.9);
  ASSERT_EQ(mask().size(), 3U);
  EXPECT_NEAR(mask()[2].at.x, 0.9, 0.02);
  // A point on a side goes between its ends.
  click(0.5, 0.1);
  ASSERT_EQ(mask().size(), 4U);
  EXPECT_NEAR(mask()[1].at.x, 0.5, 0.02);
  test::drag(editor, editor->place({0.5, 0.1}).toPoint(), editor->place({0.5, 0.3}).toPoint());
  EXPECT_NEAR(mask()[1].at.y, 0.3, 0.03);
  QTest::mouseDClick(editor, Qt::LeftButton, Qt::NoModifier, editor->place(mask()[1].at).toPoint());
  EXPECT_TRUE(mask()[1].smooth);
  click(0.9, 0.9, Qt::RightButton);
  EXPECT_EQ(mask().size(), 3U);
  test::drag(editor, editor->pivotPlace().toPoint(), editor->place({0.25, 0.75}).toPoint());
  EXPECT_NEAR(emitter().number("pivot_x", 1), 25, 2);
  EXPECT_NEAR(emitter().number("pivot_y", 1), 75, 3);
}

TEST_F(EmitterViewTest, TheShapeFillsTheViewThatIsShown) {
  choose("shape", "Disc");
  const Scene before = scene();
  auto* view = test::child<QComboBox>(window_, "view");
  view->setCurrentIndex(view->findText("Front"));
  Q_EMIT view->activated(view->currentIndex());
  auto* inspector = test::child<QWidget>(window_, "inspector");
  test::click(test::child<QPushButton>(*inspector, "shape_face"));
  EXPECT_LT(glm::length(emitter().vector("rotation", 1) - Vec3d(90, 0, 0)), 1e-9);
  test::click(test::child<QPushButton>(*inspector, "shape_fill"));
  EXPECT_TRUE(emitter().chooses("shape", "rectangle"));
  auto* viewport = window_.findChild<Viewport*>();
  const Vec3d extent = emitter().vector("extent", 1);
  EXPECT_NEAR(extent.x / extent.z, static_cast<double>(viewport->width()) / viewport->height(), 0.01);
  EXPECT_NEAR(extent.z, viewport->viewCamera().camera(scene(), 1).height, 1e-9);
  document().undo();
  document().undo();
  EXPECT_EQ(scene(), before);
  choose("shape", "Sphere");
  EXPECT_FALSE(test::child<QPushButton>(*inspector, "shape_face")->isEnabled()) << "a ball has no face";
}

TEST_F(EmitterViewTest, TheMaskIsZoomedToSinglePixels) {
  choose("sprite", "Picture");
  typePath("picture", picture());
  ASSERT_TRUE(test::eventually(
      [this] { return std::get<FileRef>(emitter().value("picture").base).content != nullptr; }));
  auto* editor = test::child<MaskEditor>(window_, "mask_editor");
  const Vec2d corner(0.3, 0.6);
  const QPointF at = editor->place(corner);
  const auto across = [editor] { return editor->place({1, 0}).x() - editor->place({0, 0}).x(); };
  const double whole = across();
  const auto wheel = [&](Qt::KeyboardModifiers held) {
    QWheelEvent event(at, editor->mapToGlobal(at), {}, {0, 120}, Qt::NoButton, held, Qt::NoScrollPhase,
                      false);
    QApplication::sendEvent(editor, &event);
  };
  wheel(Qt::NoModifier);
  EXPECT_EQ(across(), whole) << "the panel scrolls";
  for (int i = 0; i < 40; ++i) wheel(Qt::ControlModifier);
  EXPECT_NEAR(across(), 32 * 40, 1) << "32 pixels of the screen for one of the picture's 40";
  EXPECT_NEAR(editor->place(corner).x(), at.x(), 0.01) << "what lies under the pointer stays there";
  EXPECT_NEAR(editor->place(corner).y(), at.y(), 0.01);
  // A drag with the middle button moves it, and draws nothing.
  const QPoint from = at.toPoint(), to = from + QPoint(30, -20);
  QTest::mousePress(editor, Qt::MiddleButton, {}, from);
  QMouseEvent move(QEvent::MouseMove, to, editor->mapToGlobal(to), Qt::NoButton, Qt::MiddleButton, {});
  QApplication::sendEvent(editor, &move);
  QTest::mouseRelease(editor, Qt::MiddleButton, {}, to);
  EXPECT_NEAR(editor->place(corner).x(), at.x() + 30, 0.01);
  EXPECT_NEAR(editor->place(corner).y(), at.y() - 20, 0.01);
  // A point is set as exactly as it is seen.
  const auto mask = [this] { return std::get<OutlinePoints>(emitter().value("mask").base); };
  for (const Vec2d& point : {Vec2d(0.3, 0.6), Vec2d(0.32, 0.6), Vec2d(0.32, 0.62)})
    QTest::mouseClick(editor, Qt::LeftButton, {}, editor->place(point).toPoint());
  ASSERT_EQ(mask().size(), 3U);
  EXPECT_NEAR(mask()[1].at.x, 0.32, 0.0005);
  QTest::keyClick(editor, Qt::Key_0);
  EXPECT_EQ(across(), whole);
}

TEST_F(EmitterViewTest, ALaneFollowsSpeedUpToItsFastest) {
  auto* lane = test::child<CurveLane>(window_, "lane.size");
  test::click(lane);
  QComboBox* box = nullptr;
  for (QComboBox* each : lane->parentWidget()->findChildren<QComboBox*>("follows"))
    if (each->isVisible()) box = each;
  ASSERT_TRUE(box);
  box->setFocus();
  QTest::keyClick(box, Qt::Key_Down);
  EXPECT_EQ(emitter().value("size").input, CurveInput::Speed);
  NumberField* fastest = nullptr;
  for (NumberField* each : lane->parentWidget()->findChildren<NumberField*>("fastest"))
    if (each->isVisible()) fastest = each;
  ASSERT_TRUE(fastest);
  test::type(fastest, "4");
  EXPECT_EQ(emitter().value("size").fastest, 4);
  document().undo();
  document().undo();
  EXPECT_EQ(emitter().value("size").input, CurveInput::Age);
}

TEST_F(EmitterViewTest, ACurveIsKeptCopiedAndPasted) {
  QSettings().remove("curves/own");
  test::click(test::child<QToolButton>(window_, "preset.opacity.pulse"));
  test::chooseFromMenu(test::child<QToolButton>(window_, "preset.opacity.more"), "Copy curve");
  test::chooseFromMenu(test::child<QToolButton>(window_, "preset.opacity.more"), "Save as preset");
  const std::optional<Curve> pulse = emitter().value("opacity").overAge;
  test::click(test::child<CurveLane>(window_, "lane.size"));
  test::chooseFromMenu(test::child<QToolButton>(window_, "preset.size.more"), "Paste curve");
  EXPECT_EQ(emitter().value("size").overAge, pulse);
  // The next lane that opens offers the kept one.
  test::click(test::child<QToolButton>(window_, "preset.size.hold"));
  test::click(test::child<CurveLane>(window_, "lane.opacity"));
  test::click(test::child<CurveLane>(window_, "lane.size"));
  test::click(test::child<QToolButton>(window_, "preset.size.own0"));
  EXPECT_EQ(emitter().value("size").overAge, pulse);
  QSettings().remove("curves/own");
}

TEST_F(EmitterViewTest, ExpectedBirthsAreReadBeforePlaying) {
  auto* note = test::child<BirthsNote>(window_, "expected_births");
  test::type(field("rate"), "240");
  test::type(field("lifetime"), "1");
  // 95 frames of ten births; 24 of them live for a second.
  EXPECT_TRUE(test::eventually([&] { return note->text().startsWith("about 950 births, peak 24"); }))
      << note->text().toStdString();
}

TEST_F(EmitterViewTest, AStartStateIsTakenSeenAndCleared) {
  document().setFrame(40);
  const std::size_t living = livingAt(40);
  auto* button = test::child<QPushButton>(window_, "start_state");
  test::click(button);
  EXPECT_TRUE(hasStartState(scene()));
  EXPECT_EQ(document().frame(), 1);
  EXPECT_EQ(livingAt(1), living);
  EXPECT_EQ(button->text(), "Clear start state");
  test::click(button);
  EXPECT_FALSE(hasStartState(scene()));
  EXPECT_EQ(livingAt(1), 0U);
}

TEST_F(EmitterViewTest, AClickProbesAParticle) {
  document().edit(
      test::with(scene(), {"emitter.cone=0", "emitter.speed=2", "emitter.rate=4", "emitter.position=2,1,0"}),
      "prepare");
  document().setFrame(30);
  livingAt(30);
  Viewport& viewport = window_.viewport();
  ASSERT_TRUE(test::eventually([&] { return viewport.shownFrame() == 30; }));
  document().select(scene().camera().id);  // no handles in the way
  const ParticleStore& particles = window_.backgroundRun().frame(30)->particles->groups.front().particles;
  const Projector projector(cameraOf(scene(), 30), viewport.width(), viewport.height());
  const auto place = projector.project(drawnParticle(particles, 1).state.position);
  QTest::mouseClick(&viewport, Qt::LeftButton, Qt::NoModifier, QPointF(place.x, place.y).toPoint());
  auto* panel = test::child<ProbePanel>(window_, "probe_panel");
  ASSERT_TRUE(panel->isVisible());
  auto& probe = viewport.probe();
  ASSERT_TRUE(test::eventually([&] { return probe.particle().has_value(); }));
  const QStringList lines = panel->lines();
  EXPECT_EQ(lines[0].toStdString(), "emitter, birth 2");
  EXPECT_TRUE(lines.contains("speed  2.00 units/s")) << lines.join('\n').toStdString();
  EXPECT_TRUE(lines.contains("nothing acts on it"));
  EXPECT_TRUE(test::eventually([&] { return probe.path().size() > 5; }));
  // It follows the frame, and goes.
  document().setFrame(31);
  const double frames = drawnParticle(particles, 1).state.age * 24;
  EXPECT_TRUE(test::eventually(
      [&] { return probe.particle() && std::abs(probe.particle()->age * 24 - frames - 1) < 1e-3; }));
  document().setFrame(1);
  EXPECT_TRUE(test::eventually([&] { return panel->lines()[0].contains("is not alive"); }));
  auto* end = panel->findChild<QPushButton*>("end_probe");
  ASSERT_TRUE(end && end->isVisible());
  test::click(end);
  EXPECT_FALSE(panel->isVisible());
}

TEST_F(EmitterViewTest, SoloShowsOneEmitterAndSimulatesNothing) {
  Item other = newItem(*emitter().kind, "other");
  document().edit(scene().withAdded(other), "add");
  livingAt(30);
  const SceneFramePtr before = window_.backgroundRun().frame(30);
  chooseFromHead("Solo");
  EXPECT_TRUE(document().isSolo(emitter().id));
  EXPECT_FALSE(document().drawnScene().findByName("other")->enabled);
  EXPECT_TRUE(scene().findByName("other")->enabled);
  EXPECT_EQ(window_.backgroundRun().frame(30), before);
  chooseFromHead("End solo");
  EXPECT_EQ(document().drawnScene(), scene());
}

TEST_F(EmitterViewTest, ADuplicateIsMovedInSpaceAndTime) {
  chooseFromHead("Duplicate, moved…");
  auto* popup = test::child<QWidget>(window_, "duplicate_popup");
  ASSERT_TRUE(popup && popup->isVisible());
  test::type(popup->findChild<NumberField*>("x"), "2.5");
  test::type(popup->findChild<NumberField*>("later"), "12");
  test::click(popup->findChild<QPushButton*>("duplicate"));
  ASSERT_EQ(scene().itemsOf(ItemFamily::Emitter).size(), 2U);
  const Item& copy = *scene().itemsOf(ItemFamily::Emitter)[1];
  EXPECT_EQ(copy.vector("position", 1).x, 2.5);
  EXPECT_EQ(copy.number("emits_from", 1), 13);
  document().undo();
  EXPECT_EQ(scene().itemsOf(ItemFamily::Emitter).size(), 1U);
}

TEST_F(EmitterViewTest, ShapesThatComeWithTheProgramAreInAMenu) {
  choose("sprite", "Mesh");
  auto* samples = row("sprite_mesh")->findChild<QToolButton*>("samples");
  ASSERT_TRUE(samples);
  test::chooseFromMenu(samples, "Crystal");
  EXPECT_TRUE(test::eventually([this] {
    const auto& file = std::get<FileRef>(emitter().value("sprite_mesh").base);
    return file.path == "sample:crystal.obj" && file.content;
  }));
  document().undo();
  EXPECT_TRUE(std::get<FileRef>(emitter().value("sprite_mesh").base).path.empty());
}

TEST_F(EmitterViewTest, ADroppedPictureBecomesWhatIsChosen) {
  QMimeData data;
  data.setUrls({QUrl::fromLocalFile(QString::fromStdString(picture().string()))});
  const auto isChosen = test::chooseInNextMenu("As backdrop");
  test::drop(window_.viewport(), data, {50, 50});
  test::expectChosen(isChosen);
  EXPECT_TRUE(test::eventually(
      [this] { return std::get<FileRef>(scene().camera().value("backdrop").base).content != nullptr; }));
  EXPECT_EQ(document().selected(), scene().camera().id);
  EXPECT_TRUE(test::eventually([this] {
    const QColor corner = window_.viewport().grab().toImage().pixelColor(window_.viewport().width() / 2, 20);
    return corner.lightness() > 200;
  })) << "the backdrop is not seen";
}

}  // namespace
}  // namespace comet
