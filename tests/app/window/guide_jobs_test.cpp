// The small jobs at the end of the guide's pages, done in the window as they are written there.
#include "app/driver.h"
#include "bake/bake_view.h"
#include "bake/cell_plot.h"
#include "base/file.h"
#include "controls/curve_lane.h"
#include "gas/advect.h"
#include "grid/influence_grid.h"
#include "presets/preset_tiles.h"
#include "render/trail.h"
#include "simulation/arrivals/arrival_report.h"
#include "simulation/cards/card_rule.h"
#include "support/files.h"
#include "support/scenes.h"
#include "timeline/timeline.h"
#include "viewport/comparison.h"
#include "viewport/sweep_view.h"
#include "viewport/viewport.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFile>
#include <QLabel>
#include <QMimeData>
#include <QPushButton>
#include <QRegularExpression>
#include <QToolButton>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

class GuideJobs : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    newSceneAtRest();
    window_.showPage(MainWindow::Shape);
  }
  // What a page asks for; the test below it has to be changed with it.
  static void expectJob(const char* page, const char* words) {
    QFile file(QString(":/guide/") + page);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly)) << page;
    const QString text = QString::fromUtf8(file.readAll()).simplified();
    EXPECT_TRUE(text.contains(QString("**Try it.** ") + words)) << page << ": " << words;
  }
  void select(const char* name) {
    document().select(scene().findByName(name)->id);
    QApplication::processEvents();
  }
  void choose(const char* param, const QString& label, const char* name = "choice") {
    chooseIn(*row(param), name, label);
  }
  // By the keyboard, one entry at a time; each may lead to another box.
  static void chooseIn(QWidget& parent, const char* name, const QString& label) {
    auto* box = test::child<QComboBox>(parent, name);
    const int index = box->findText(label);
    ASSERT_GE(index, 0) << label.toStdString();
    for (int tries = 0; box->currentIndex() != index && tries < 50; ++tries) {
      box->setFocus();
      QTest::keyClick(box, box->currentIndex() < index ? Qt::Key_Down : Qt::Key_Up);
      QApplication::processEvents();
      box = test::child<QComboBox>(parent, name);
    }
    EXPECT_EQ(box->currentIndex(), index);
  }
  void openDemo(const char* name) {
    const QString before = document().displayName();
    test::click(test::child<QToolButton>(window_, QString("demo.") + name));
    ASSERT_TRUE(test::eventually([&] { return document().displayName() != before; })) << name;
    document().holdFrame();
  }
  void key(const char* param) { test::click(test::child<KeyMark>(*row(param), "key")); }
  const ParticleStore& particlesAt(int frame, const char* emitter = "emitter") {
    EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
    frame_ = window_.backgroundRun().frame(frame);
    return frame_->particles->find(scene().findByName(emitter)->id)->particles;
  }

 private:
  SceneFramePtr frame_;  // whose particles are looked at
};

TEST_F(GuideJobs, AFountainFallsBack) {
  expectJob("first-effect.md",
            "Make a fountain: cone 12, speed 7, lifetime 2 s, gravity. Then let the size fall to 0");
  test::type(field("cone"), "12");
  test::type(field("speed"), "7");
  test::type(field("lifetime"), "2s");
  test::addInfluence(window_, "Gravity");
  select("emitter");
  test::click(test::child<CurveLane>(window_, "lane.size"));
  test::click(test::child<QToolButton>(window_, "preset.size.fade_out"));
  const Curve& size = *scene().findByName("emitter")->value("size").overAge;
  EXPECT_EQ(size.points().back().y, 0);
  const ParticleStore& drops = particlesAt(90);
  ASSERT_GT(drops.size(), 50U);
  const Vec3d start = scene().findByName("emitter")->vector("position", 90);
  const double gravity = scene().findByName("gravity")->number("strength", 90);
  int falling = 0;
  for (std::size_t i = 0; i < drops.size(); ++i) {
    // None rises above v²/2g, and many come down again.
    EXPECT_LT(test::positionOf(drops, i).y, start.y + 49 / (2 * gravity) + 0.5);
    falling += test::velocityOf(drops, i).y < 0 ? 1 : 0;
  }
  EXPECT_GT(falling, 20);
}

TEST_F(GuideJobs, AMovingRingHandsItsVelocityOver) {
  expectJob("birth.md",
            "Choose *Ring*, key its position along x from frame 1 to 48, set *Inherit velocity* to 50 %");
  choose("shape", "Ring");
  test::type(field("speed"), "0");
  key("position");
  document().setFrame(48);
  test::type(field("position", "x"), "4.7");
  test::type(field("inherit_emitter_velocity"), "50");
  const ParticleStore& ring = particlesAt(25);
  ASSERT_GT(ring.size(), 10U);
  double fastest = 0;
  for (std::size_t i = 0; i < ring.size(); ++i) fastest = std::max(fastest, test::velocityOf(ring, i).x);
  // 4.7 units in 47 frames are 2.4 units/s on average, half as much again at the middle of a smooth way.
  EXPECT_GT(fastest, 0.5 * 2.4);
  EXPECT_LT(fastest, 0.5 * 2.4 * 1.8);
}

TEST_F(GuideJobs, AFlatBurstEndsOnACircle) {
  expectJob("launch.md", "Launch from a sphere *Outward* with 2D space, bounds at a distance of 3");
  choose("shape", "Sphere");
  choose("launch", "Outward");
  choose("launch_space", "2D");
  choose("bounds", "Distance");
  test::type(field("bounds_radius"), "3");
  test::type(field("speed"), "3");
  test::type(field("lifetime"), "10");
  const ParticleStore& burst = particlesAt(90);
  const Vec3d middle = scene().findByName("emitter")->vector("position", 90);
  ASSERT_GT(burst.size(), 20U);
  double farthest = 0;
  for (std::size_t i = 0; i < burst.size(); ++i) {
    const Vec3d at = test::positionOf(burst, i) - middle;
    EXPECT_EQ(test::velocityOf(burst, i).z, 0);
    farthest = std::max(farthest, glm::length(at));
  }
  EXPECT_LE(farthest, 3.01);
  EXPECT_GT(farthest, 2.7);
}

TEST_F(GuideJobs, BirthsFollowASine) {
  expectJob("formulas.md", "Give *Rate* the formula `value * max(0, sin(4*time))`");
  test::type(field("rate"), "= value * max(0, sin(4*time))");
  test::type(field("lifetime"), "0.05");
  // The sine is positive until 0.785 s, and negative until 1.57 s.
  EXPECT_GT(particlesAt(10).size(), 0U);
  EXPECT_EQ(particlesAt(30).size(), 0U);
  EXPECT_GT(particlesAt(48).size(), 0U);
}

TEST_F(GuideJobs, TurbulenceActsInsideItsReach) {
  expectJob("influences.md", "Add turbulence, set its reach to a sphere of radius 2");
  test::type(field("speed"), "4");
  test::type(field("lifetime"), "3");
  test::type(field("cone"), "0");
  test::addInfluence(window_, "Turbulence");
  choose("reach", "Sphere");
  test::type(field("reach_radius"), "2");
  EXPECT_EQ(scene().findByName("turbulence")->choice("reach"), "sphere");
  EXPECT_EQ(scene().findByName("turbulence")->number("reach_radius", 1), 2);
  EXPECT_GT(particlesAt(60).size(), 0U);
}

TEST_F(GuideJobs, DropsSplash) {
  expectJob("children.md", "Add a child with *Parent hit*, a deflector as the ground, and let drops splash.");
  test::type(field("speed"), "2");
  test::type(field("position", "y"), "2");
  test::addInfluence(window_, "Gravity");
  test::addInfluence(window_, "Deflector");
  test::click(test::child<QPushButton>(window_, "add_emitter"));
  QApplication::processEvents();
  ASSERT_TRUE(scene().findByName("emitter 2"));
  select("emitter 2");
  choose("birth_trigger", "Parent hit");
  choose("parent", "emitter", "item");
  EXPECT_EQ(scene().findByName("emitter 2")->reference("parent"), scene().findByName("emitter")->id);
  EXPECT_GT(particlesAt(90, "emitter 2").size(), 10U);
}

TEST_F(GuideJobs, AFlockFallsApart) {
  expectJob("flocks.md",
            "Open the demo *Gull flock*, lower *Alignment* to 0, and watch the flock fall apart.");
  openDemo("gull_flock");
  select("flock");
  test::type(field("alignment"), "0");
  EXPECT_EQ(scene().findByName("flock")->number("alignment", 1), 0);
  EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }, 60000));
}

TEST_F(GuideJobs, SmokeIsBlownAroundAnObstacle) {
  expectJob("gas.md",
            "Make a new scene, press *+ Gas*, set *Resolution* to 48 and *Buoyancy* to 20. Add *Wind*, and a "
            "*Deflector* in its way.");
  test::click(test::child<QPushButton>(window_, "add_gas"));
  test::type(field("resolution"), "48");
  test::type(field("buoyancy"), "20");
  test::addInfluence(window_, "Wind");
  test::addInfluence(window_, "Deflector");
  choose("shape", "Sphere");
  test::type(field("position", "y"), "2.5");
  EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isSimulated(40); }, 90000));
  const SceneFramePtr frame = window_.backgroundRun().frame(40);
  ASSERT_EQ(frame->gases->gases.size(), 1U);
  const PackedGas& gas = *frame->gases->gases.front().content;
  EXPECT_EQ(gas.grid().counts[1], 48U);
  EXPECT_GT(gas.filled(), 1000U);
  EXPECT_LT(valueAt(gas.grid(), gas.density(), {0, 2.5, 0}), 0.01) << "none is in the obstacle";
}

TEST_F(GuideJobs, ACopyIsDelayedMovedAndSeenAlone) {
  expectJob("emitters.md", "Duplicate an emitter by 2 units and a delay of 12 frames, then solo the copy.");
  auto* grid = test::child<InfluenceGrid>(window_, "influence_grid");
  test::chooseFromContextMenu(grid, grid->rowHeadRect(0).center(), "Duplicate, moved…");
  auto* popup = window_.findChild<QWidget*>("duplicate_popup");
  ASSERT_TRUE(popup);
  test::type(test::child<NumberField>(*popup, "x"), "2");
  test::type(test::child<NumberField>(*popup, "later"), "12");
  test::click(test::child<QPushButton>(*popup, "duplicate"));
  ASSERT_TRUE(scene().findByName("emitter 2"));
  EXPECT_NEAR(scene().findByName("emitter 2")->vector("position", 1).x -
                  scene().findByName("emitter")->vector("position", 1).x,
              2, 1e-9);
  test::chooseFromContextMenu(grid, grid->rowHeadRect(1).center(), "Solo");
  EXPECT_FALSE(document().drawnScene().findByName("emitter")->enabled);
  EXPECT_TRUE(document().drawnScene().findByName("emitter 2")->enabled);
}

TEST_F(GuideJobs, DropsRestOnARoughSlope) {
  expectJob(
      "deflectors.md",
      "Let drops fall on a tilted rectangle with bounce 40 and friction 0.2, then raise the friction until "
      "they stay.");
  test::type(field("position", "y"), "3");
  test::type(field("speed"), "0");
  test::type(field("lifetime"), "10");
  test::addInfluence(window_, "Gravity");
  test::addInfluence(window_, "Deflector");
  choose("shape", "Rectangle");
  test::type(field("rotation", "z"), "15");
  test::type(field("bounce"), "40");
  const auto farthest = [this] {
    const ParticleStore& drops = particlesAt(90);
    double max = 0;
    for (std::size_t i = 0; i < drops.size(); ++i)
      max = std::max(max, std::abs(test::positionOf(drops, i).x));
    return max;
  };
  test::type(field("friction"), "0.2");
  const double sliding = farthest();
  test::type(field("friction"), "2");
  EXPECT_LT(farthest(), 0.7 * sliding);
}

TEST_F(GuideJobs, ARingRunsAlongASpiral) {
  expectJob(
      "fields.md",
      "Draw a spiral as a *Path* that acts as *Moving air*, set *Air speed* to 4 and *Inward* to 50 %, and "
      "let a ring of particles run along it.");
  test::addInfluence(window_, "Path");
  select("path");
  test::click(test::child<QPushButton>(*row("strokes"), "draw"));
  auto* viewport = test::child<Viewport>(window_, "viewport");
  std::vector<QPoint> spiral;
  for (int i = 0; i <= 60; ++i) {
    const double angle = 0.15 * i, radius = 20 + 2.0 * i;
    spiral.push_back(viewport->rect().center() +
                     QPointF(radius * std::cos(angle), radius * std::sin(angle)).toPoint());
  }
  test::dragAlong(viewport, spiral);
  const auto strokes = std::get<StrokeList>(scene().findByName("path")->value("strokes").base);
  ASSERT_EQ(strokes.size(), 1U);
  ASSERT_GT(strokes[0].size(), 8U) << "a spiral needs many points";
  choose("acts_as", "Moving air");
  test::type(field("air_speed"), "4");
  test::type(field("inward"), "50");
  select("emitter");
  choose("shape", "Ring");
  test::type(field("speed"), "0");
  const Vec3d start = scene().findByName("path")->vector("position", 1) + strokes[0][0];
  const char* const axes[] = {"x", "y", "z"};
  for (int axis = 0; axis < 3; ++axis)
    test::type(field("position", axes[axis]), QString::number(start[axis]));
  const ParticleStore& ring = particlesAt(40);
  ASSERT_GT(ring.size(), 20U);
  int along = 0;
  for (std::size_t i = 0; i < ring.size(); ++i) {
    const double speed = glm::length(test::velocityOf(ring, i));
    EXPECT_LT(speed, 8);
    along += speed > 1 ? 1 : 0;
  }
  EXPECT_GT(along, 10) << "many have taken up the flow along the line";
}

TEST_F(GuideJobs, OpacityIsDrawnInTheLifeChart) {
  expectJob("life.md",
            "Open *Opacity*, choose *fade in and out*, and drag its second point to a tenth of the life.");
  test::click(test::child<QToolButton>(window_, "preset.opacity.fade_in_out"));
  const auto opacity = [this] { return *scene().findByName("emitter")->value("opacity").overAge; };
  ASSERT_GE(opacity().points().size(), 3U);
  auto* lane = test::child<CurveLane>(window_, "lane.opacity");
  const CurvePoint second = opacity().points()[1];
  test::drag(lane, lane->place(second.x, second.y).toPoint(), lane->place(0.1, second.y).toPoint());
  EXPECT_NEAR(opacity().points()[1].x, 0.1, 0.02);
}

TEST_F(GuideJobs, AViewFromTheSideIsOrbitedBack) {
  expectJob("viewport.md", "Look from the *Side*, choose *Overlays → Colour by speed*, and orbit back.");
  auto* viewport = test::child<Viewport>(window_, "viewport");
  auto* view = test::child<QComboBox>(window_, "view");
  view->setFocus();
  while (view->currentText() != "Side") QTest::keyClick(view, Qt::Key_Down);
  EXPECT_EQ(viewport->view(), ViewKind::Side);
  test::chooseFromMenu(test::child<QPushButton>(window_, "overlay"), "Colour by speed");
  EXPECT_EQ(viewport->overlay().tint, ParticleOverlay::Tint::Speed);
  test::drag(viewport, {40, 40}, {160, 60});
  EXPECT_EQ(viewport->view(), ViewKind::Free);
}

TEST_F(GuideJobs, PuffsMakeAJetOfSteam) {
  expectJob(
      "looks.md",
      "Choose the sprite *Puff* and the blend mode *Normal*, and set *Stretch* to 0.1 s: a jet of steam.");
  choose("sprite", "Puff");
  choose("blend", "Normal");
  test::type(field("stretch"), "0.1");
  const Scene::ItemPtr jet = scene().findByName("emitter");
  EXPECT_TRUE(jet->chooses("sprite", "puff"));
  EXPECT_TRUE(jet->chooses("blend", "normal"));
  EXPECT_EQ(jet->number("stretch", 1), 0.1);
}

TEST_F(GuideJobs, KeysAreHeldAndMirrored) {
  expectJob(
      "keys.md",
      "Key the rate at frames 1, 24 and 48, choose *hold* for the middle one, and mirror the three in time.");
  document().setFrame(1);
  test::type(field("rate"), "100");
  key("rate");
  const std::pair<int, const char*> others[] = {{24, "200"}, {48, "300"}};
  for (const auto& [frame, rate] : others) {
    document().setFrame(frame);
    test::type(field("rate"), rate);
  }
  document().setFrame(24);
  auto* mark = test::child<KeyMark>(*row("rate"), "key");
  test::chooseFromContextMenu(mark, mark->rect().center(), "Hold");
  const auto keys = [this] { return scene().findByName("emitter")->value("rate").keys; };
  ASSERT_EQ(keys().size(), 3U);
  EXPECT_EQ(keys()[1].toNext, Interpolation::Hold);
  auto* timeline = test::child<Timeline>(window_, "timeline");
  const QPoint first = timeline->keys().placeOf({"rate", 1}).toPoint();
  test::click(timeline, first);
  QTest::keyClick(timeline, Qt::Key_A, Qt::ControlModifier);
  test::chooseFromContextMenu(timeline, first, "Mirror in time");
  ASSERT_EQ(keys().size(), 3U);
  EXPECT_EQ(keys()[0].value, Value(300.0));
  EXPECT_EQ(keys()[1].frame, 25) << "as far from the end as it was from the beginning";
  EXPECT_EQ(keys()[2].value, Value(100.0));
}

TEST_F(GuideJobs, ASeamIsLookedAtWithAndWithoutALoop) {
  expectJob(
      "bake.md",
      "Bake *Reed drizzle*, look at its seam in **Cells**, and switch the loop from *Exact* to *None* to "
      "see the difference.");
  openDemo("reed_drizzle");
  test::click(test::child<QPushButton>(window_, "page.2"));
  const auto facts = [this] {
    test::click(test::child<QPushButton>(window_, "bake_start"));
    EXPECT_TRUE(test::eventually(
        [this] {
          return test::child<QPushButton>(window_, "bake_write")->isEnabled() &&
                 !test::child<QPushButton>(window_, "bake_cancel")->isEnabled();
        },
        120000));
    return test::child<QLabel>(window_, "bake_facts")->text();
  };
  EXPECT_TRUE(facts().contains("The loop is exact"));
  test::click(test::child<QPushButton>(window_, "bake_page.1"));
  const auto plot = [this] { return window_.findChild<CellPlot*>()->grab().toImage(); };
  const QImage exact = plot();
  chooseIn(*test::child<ParamRow>(*window_.findChild<BakeView*>(), "param.loop"), "choice", "None");
  EXPECT_FALSE(facts().contains("The loop is exact"));
  EXPECT_NE(plot(), exact) << "there is no seam any more";
}

TEST_F(GuideJobs, SparksEndWhereTheyAreHighest) {
  expectJob(
      "probe.md",
      "Probe a spark of *Funnel sparks*, read the age at its highest point, and add a rule that ends each "
      "particle from that age on.");
  openDemo("funnel_sparks");
  document().setFrame(40);
  const ParticleStore& sparks = particlesAt(40, "embers");
  Viewport& viewport = window_.viewport();
  ASSERT_TRUE(test::eventually([&] { return viewport.shownFrame() == 40; }));
  document().select(scene().camera().id);  // no handles in the way
  const Projector projector(cameraOf(scene(), 40), viewport.width(), viewport.height());
  ASSERT_GT(sparks.size(), 40U);
  const auto at = projector.project(drawnParticle(sparks, sparks.size() / 2).state.position);
  test::click(&viewport, QPointF(at.x, at.y).toPoint());
  auto* panel = test::child<ProbePanel>(window_, "probe_panel");
  const auto highest = [panel] { return panel->lines().filter(QRegularExpression("^highest at age ")); };
  ASSERT_TRUE(test::eventually([&] { return !highest().isEmpty(); }));
  const double age = highest().front().section("age  ", 1).section(' ', 0, 0).toDouble();
  EXPECT_GT(age, 1);
  const Scene::ItemPtr probed = scene().find(viewport.probe().particle()->emitter);
  document().select(probed->id);
  QApplication::processEvents();
  const auto inRules = [this](const char* name) { return test::child<QWidget>(*row("rules"), name); };
  test::click(inRules("add_rule"));
  QApplication::processEvents();
  choose("rules", "age between", "rule0.when0.kind");
  test::type(test::child<NumberField>(*row("rules"), "rule0.when0.first"), QString::number(age));
  test::type(test::child<NumberField>(*row("rules"), "rule0.when0.second"), "1000");
  choose("rules", "die", "rule0.then0.kind");
  const ParticleStore& left = particlesAt(40, probed->name.c_str());
  ASSERT_GT(left.size(), 5U);
  for (std::size_t i = 0; i < left.size(); ++i) EXPECT_LT(drawnParticle(left, i).state.age * 24, age + 1.001);
}

TEST_F(GuideJobs, ARibbonsSurfaceIsExported) {
  expectJob("trails.md",
            "Open *Wake ribbon*, halve the voxel size of its surface, and export one frame of it as OBJ.");
  openDemo("wake_ribbon");
  select("wake");
  const double voxel = scene().findByName("wake")->number("surface_voxel_size", 1);
  test::type(field("surface_voxel_size"), QString::number(voxel / 2));
  EXPECT_NEAR(scene().findByName("wake")->number("surface_voxel_size", 1), voxel / 2, 1e-9);
  test::click(test::child<QPushButton>(window_, "page.2"));
  const test::TemporaryFolder folder;
  auto* edit = test::child<QLineEdit>(window_, "bake_folder");
  edit->selectAll();
  QTest::keyClicks(edit, QString::fromStdString(folder.path().string()));
  chooseIn(window_, "data_what", "Surfaces");
  chooseIn(window_, "data_format", "OBJ");
  test::type(test::child<NumberField>(window_, "data_first"), "20");
  test::type(test::child<NumberField>(window_, "data_last"), "20");
  test::click(test::child<QPushButton>(window_, "data_write"));
  const auto* message = test::child<QLabel>(window_, "data_message");
  ASSERT_TRUE(test::eventually([&] { return message->text().startsWith("Exported "); }, 60000));
  bool hasMesh = false;
  for (const auto& file : std::filesystem::directory_iterator(folder.path()))
    if (file.path().extension() == ".obj")
      hasMesh = readFile(file.path(), 1 << 28).find("\nf ") != std::string::npos;
  EXPECT_TRUE(hasMesh);
}

TEST_F(GuideJobs, LettersFallApartAfterATime) {
  expectJob(
      "arriving.md",
      "Open *name board*, set *Hold* of *name* to *For a time* and *Hold time* to 0.5: the letters fall "
      "apart as they came together, half a second later.");
  openDemo("name_board");
  document().select(scene().findByName("name")->id);
  const auto held = [this](int frame) {
    EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }, 60000));
    return countArrivals(*scene().findByName("name"), *window_.backgroundRun().frame(frame)).arrived;
  };
  EXPECT_EQ(held(94), 6000U);
  choose("hold", "For a time");
  test::type(field("hold_time"), "0.5");
  EXPECT_LT(held(94), 600U);
}

TEST_F(GuideJobs, PaperTurnsToCloth) {
  expectJob(
      "cards.md",
      "Open *ticket scatter* and set *Bending stiffness* of *tickets* to 2: the paper turns to cloth and "
      "folds as it falls.");
  openDemo("ticket_scatter");
  select("tickets");
  // How far the ends of the cards are from as far apart as they are long, on average.
  const auto folded = [this] {
    EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }, 60000));
    const ParticleStore& cards = window_.backgroundRun().frame(20)->particles->groups.front().particles;
    const CardRule rule(*scene().findByName("tickets"), 20);
    double sum = 0;
    for (std::size_t i = 0; i < cards.size(); ++i) {
      const CardBody body(rule.grid().points(), cards.body(i));
      const Vec3d ends = body.position(1) - body.position(rule.grid().at(1, rule.grid().rows() - 1));
      sum += 1 - glm::length(ends) / rule.size(cards.ids()[i]);
    }
    return sum / static_cast<double>(cards.size());
  };
  const double before = folded();
  test::type(field("card_bending_stiffness"), "2");
  EXPECT_GT(folded(), 2 * before);
}

TEST_F(GuideJobs, GravityAndDragAreTriedSideBySide) {
  expectJob("values.md",
            "Open *chain grit*, try values of *Strength* of **gravity**, and of *Drag rate* of **drag**.");
  openDemo("chain_grit");
  document().setFrame(18);
  select("gravity");
  test::chooseFromContextMenu(row("strength"), {10, 10}, "Try values of strength…");
  select("drag");
  test::chooseFromContextMenu(row("rate"), {10, 10}, "Try values of drag rate…");
  const auto* view = test::child<SweepView>(window_, "sweep");
  EXPECT_TRUE(test::eventually([view] { return view->variants() == 16 && view->run().isDrawn(18); }));
  // Strong gravity leaves the grit lower in the picture than weak gravity does.
  const auto bright = [view](std::size_t variant, bool below) {
    const ScreenPicturePtr picture = view->run().picture(variant, 18);
    const std::size_t half = picture->pixels.size() / 2;
    return std::count_if(picture->pixels.begin() + static_cast<std::ptrdiff_t>(below ? half : 0),
                         picture->pixels.end() - static_cast<std::ptrdiff_t>(below ? 0 : half),
                         [](std::uint32_t pixel) { return (pixel >> 16 & 0xFF) > 160; });
  };
  EXPECT_GT(bright(3, true), bright(0, true));
  EXPECT_LT(bright(3, false), bright(0, false));
}

TEST_F(GuideJobs, PresetsAreClickedAndDropped) {
  expectJob("presets.md", "In a new scene add *sparks*, then drop *ripples* on the ground beside them.");
  auto* tiles = test::child<PresetTiles>(window_, "preset_tiles");
  test::click(test::child<QToolButton>(window_, "add_preset"));
  ASSERT_TRUE(test::eventually([&] { return !tiles->tileOf("ripples").isNull(); }));
  test::click(tiles, tiles->tileOf("sparks").center());
  EXPECT_TRUE(scene().findByName("sparks"));
  QMimeData carried;
  carried.setData(PresetTiles::kMimeType, tiles->dragged("ripples"));
  auto* viewport = &window_.viewport();
  test::drop(*viewport, carried, viewport->rect().center() + QPoint(120, 60));
  const Vec3d place = scene().findByName("rings")->vector("position", 1);
  EXPECT_GT(place.x, 0);
  EXPECT_NEAR(place.y, 0.01, 1e-9);
}

TEST_F(GuideJobs, MoreWindIsComparedAndTakenBack) {
  expectJob("compare.md",
            "Open *funnel sparks*, keep a snapshot, set the response of **embers** to **wind** to 350, "
            "compare them "
            "by a wipe, and restore.");
  openDemo("funnel_sparks");
  document().setFrame(40);
  test::click(test::child<QPushButton>(window_, "snapshot"));
  const Scene before = scene();
  auto* grid = test::child<InfluenceGrid>(window_, "influence_grid");
  const QPoint cell = grid->cellRect(0, 1).center();
  test::click(grid, cell);
  QTest::keyClick(grid, '3');
  auto* editor = grid->findChild<QLineEdit*>();
  QTest::keyClicks(editor, "50");
  QTest::keyClick(editor, Qt::Key_Return);
  EXPECT_EQ(scene().response(scene().findByName("embers")->id, scene().findByName("wind")->id).percent, 350);
  auto* with = test::child<QComboBox>(window_, "compare_with");
  with->setFocus();
  QTest::keyClick(with, Qt::Key_Down);
  const Comparison& comparison = window_.viewport().comparison();
  EXPECT_EQ(comparison.snapshot(), scene().snapshots().front());
  EXPECT_EQ(comparison.mode(), CompareMode::Wipe);
  test::chooseFromMenu(test::child<QToolButton>(window_, "snapshot_more"), "Restore");
  EXPECT_EQ(scene(), before);
}

TEST_F(GuideJobs, TubesFromBirthPointsAreCutOpen) {
  expectJob(
      "threads.md",
      "In a new scene choose *Ring*, *Birth points* 8, *Trail* → *Tube*, *Connect* → *Each birth point*: "
      "eight tubes. Turn on *Clipping plane* in **Scene**: those in front are cut away.");
  choose("shape", "Ring");
  test::type(field("birth_points"), "8");
  choose("trail", "Tube");
  choose("trail_connect", "Each birth point");
  ASSERT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
  document().setFrame(40);
  const Scene whole = scene();
  StampCache stamps;
  const Item& emitter = *whole.findByName("emitter");
  const Look look(whole, emitter, 40, stamps);
  EXPECT_EQ(Trails(whole, emitter, *window_.backgroundRun().frame(40), {}, look).count(), 8U);
  auto* viewport = test::child<Viewport>(window_, "viewport");
  // Without handles over it.
  document().select(scene().settings().id);
  const auto picture = [&] { return viewport->grab().toImage(); };
  const QImage before = test::settledPicture(*viewport);
  auto* clip = row("clip")->findChild<QCheckBox*>();
  // Where its mark is.
  test::click(clip, QPoint(8, clip->height() / 2));
  ASSERT_TRUE(clipPlaneOf(scene(), 40));
  EXPECT_TRUE(test::eventually([&] { return picture() != before; }));
  test::click(test::child<QToolButton>(window_, "undo"));
  EXPECT_TRUE(test::eventually([&] { return picture() == before; })) << "nothing else has changed";
}

}  // namespace
}  // namespace comet
