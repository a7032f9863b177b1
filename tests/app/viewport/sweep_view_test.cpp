// Values side by side, tried and taken in the real window.
#include "viewport/sweep_view.h"

#include "app/driver.h"
#include "bake/flipbook.h"
#include "controls/number_field.h"
#include "support/scenes.h"
#include "viewport/viewport.h"

#include <QLabel>
#include <QPushButton>
#include <gmock/gmock.h>

namespace comet {
namespace {

class SweepViewTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    window_.showPage(MainWindow::Shape);
    document().replace(test::with(test::starting(), {"scene.last_frame=8", "emitter.rate=200"}), {});
    document().select(emitter());
    view_ = test::child<SweepView>(window_, "sweep");
  }
  ItemId emitter() { return scene().findByName("emitter")->id; }
  double number(const char* param) { return scene().findByName("emitter")->number(param, 1); }

  // By the menu of its row.
  void tryValues(const char* param, const char* label) {
    test::chooseFromContextMenu(row(param), {10, 10}, QString("Try values of %1…").arg(label));
  }
  // Into the field of the number that was added last.
  void type(const char* name, const QString& text) {
    NumberField* field = view_->findChildren<NumberField*>(name).back();
    field->setFocus();
    QTest::keyClick(field, Qt::Key_Return);
    auto* editor = field->findChild<QLineEdit*>();
    editor->selectAll();
    QTest::keyClicks(editor, text);
    QTest::keyClick(editor, Qt::Key_Return);
  }
  ::testing::AssertionResult allDrawn(std::size_t variants) {
    return test::eventually([=, this] {
      return view_->variants() == variants && view_->run().all() == 8 * variants &&
             view_->run().drawn() == view_->run().all();
    });
  }
  void clickTile(std::size_t variant) {
    QTest::mouseClick(view_, Qt::LeftButton, {}, view_->tileOf(variant).center());
  }

  SweepView* view_ = nullptr;
};

TEST_F(SweepViewTest, OneClickTakesAValueInOneStep) {
  tryValues("rate", "rate");
  EXPECT_TRUE(view_->isVisible());
  EXPECT_TRUE(allDrawn(4)) << "from half of it to twice";
  type("sweep_to", "700");
  type("sweep_count", "3");
  EXPECT_TRUE(allDrawn(3));
  clickTile(2);
  EXPECT_FALSE(view_->isVisible());
  EXPECT_EQ(number("rate"), 700);
  document().undo();
  EXPECT_EQ(number("rate"), 200);
}

TEST_F(SweepViewTest, ValuesBecomeVariantsOfABakeInOneStep) {
  tryValues("rate", "rate");
  type("sweep_from", "100, 300, 900");
  EXPECT_TRUE(allDrawn(3));
  const Scene before = scene();
  test::click(test::child<QPushButton>(window_, "sweep_bake"));
  EXPECT_FALSE(view_->isVisible());
  EXPECT_EQ(window_.page(), MainWindow::Bake);
  const Item& bake = *scene().itemsOf(ItemFamily::Bake).front();
  EXPECT_THAT(flipbookLayout(scene(), bake).variants,
              testing::ElementsAre("Rate 100 /s", "Rate 300 /s", "Rate 900 /s"));
  EXPECT_TRUE(test::child<QLabel>(window_, "bake_plan")->text().contains("for each of 3 variants"));
  document().undo();
  EXPECT_EQ(scene(), before);
}

TEST_F(SweepViewTest, ShowsThePicturesThatTheScenesWouldHave) {
  tryValues("rate", "rate");
  type("sweep_from", "100, 300");
  EXPECT_TRUE(allDrawn(2));
  const auto tile = view_->run().picture(1, 8);
  ASSERT_TRUE(tile);
  const Scene alone = test::with(scene(), {"emitter.rate=300"});
  Renderer renderer;
  StampCache backdrops;
  const ScreenPicture drawn = drawForScreen(renderer, backdrops,
                                            {{alone,
                                              *test::simulate(alone, 8),
                                              {},
                                              cameraOf(alone, 8),
                                              {tile->width, tile->height},
                                              1,
                                              RenderPurpose::Viewport},
                                             finishOf(alone.camera(), 8)},
                                            1);
  EXPECT_EQ(tile->pixels, drawn.pixels);
  EXPECT_NE(view_->run().picture(0, 8)->pixels, drawn.pixels);
}

TEST_F(SweepViewTest, ASecondNumberMakesAGrid) {
  tryValues("rate", "rate");
  type("sweep_count", "3");
  tryValues("speed", "speed");
  EXPECT_TRUE(allDrawn(12));
  EXPECT_EQ(view_->tileOf(3).left(), view_->tileOf(0).left()) << "three across";
  EXPECT_GT(view_->tileOf(3).top(), view_->tileOf(0).bottom());
  clickTile(11);
  EXPECT_EQ(number("rate"), 400);
  document().undo();
  EXPECT_EQ(number("rate"), 200) << "both are one step";
  EXPECT_FALSE(document().canUndo());
}

TEST_F(SweepViewTest, TilesMoveTogetherWhenPlayed) {
  tryValues("rate", "rate");
  EXPECT_TRUE(allDrawn(4));
  for (const int frame : {3, 8, 1}) {
    document().setFrame(frame);
    EXPECT_EQ(view_->shownFrame(), frame) << "at once";
  }
}

TEST_F(SweepViewTest, FollowsEditsAndEndsWithItsItem) {
  tryValues("rate", "rate");
  EXPECT_TRUE(allDrawn(4));
  const auto before = view_->run().picture(0, 8)->pixels;
  document().setBase(emitter(), "brightness", 0.3);
  EXPECT_TRUE(test::eventually([&] {
    const auto now = view_->run().picture(0, 8);
    return now && now->pixels != before;
  }));
  document().remove(emitter());
  EXPECT_TRUE(test::eventually([this] { return !view_->isShown(); }));
}

TEST_F(SweepViewTest, EscapeLeavesTheSceneAsItIs) {
  tryValues("rate", "rate");
  EXPECT_TRUE(allDrawn(4));
  QTest::keyClick(view_, Qt::Key_Escape);
  EXPECT_FALSE(view_->isVisible());
  EXPECT_FALSE(document().canUndo());
  EXPECT_TRUE(test::child<Viewport>(window_, "viewport")->isVisible());
}

TEST_F(SweepViewTest, KeysChooseATileToo) {
  tryValues("rate", "rate");
  EXPECT_TRUE(allDrawn(4));
  for (int i = 0; i < 3; ++i) QTest::keyClick(view_, Qt::Key_Down);
  QTest::keyClick(view_, Qt::Key_Up);
  QTest::keyClick(view_, Qt::Key_Down);
  QTest::keyClick(view_, Qt::Key_Return);
  EXPECT_EQ(number("rate"), 300);
}

TEST_F(SweepViewTest, StaysWithinThePictureCache) {
  document().replace(test::with(scene(), {"scene.picture_cache=16", "scene.last_frame=100"}), {});
  document().select(emitter());
  tryValues("rate", "rate");
  const auto* said = test::child<QLabel>(*view_, "sweep_progress");
  EXPECT_TRUE(test::eventually([said] { return said->text().contains("Picture cache"); }));
  const auto bytes = [this] {
    const auto any = view_->run().picture(0, view_->shownFrame());
    return any ? view_->run().drawn() * any->bytes() : 0;
  };
  // Frames are drawn wherever one looks, and others make room for them.
  for (const int frame : {100, 50, 75, 25, 99}) {
    document().setFrame(frame);
    EXPECT_TRUE(
        test::eventually([&] { return view_->shownFrame() == frame && view_->run().isDrawn(frame); }));
    EXPECT_LE(bytes(), std::size_t{16} << 20);
  }
}

TEST_F(SweepViewTest, SaysWhenThereAreTooMany) {
  tryValues("rate", "rate");
  type("sweep_count", "16");
  tryValues("speed", "speed");
  type("sweep_count", "5");
  const auto* said = test::child<QLabel>(*view_, "sweep_progress");
  EXPECT_TRUE(test::eventually([said] { return said->text().contains("80 combinations are more than 64"); }));
  type("sweep_count", "4");
  EXPECT_TRUE(test::eventually([this] { return view_->variants() == 64; })) << "and goes on";
}

}  // namespace
}  // namespace comet
