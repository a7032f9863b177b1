// Lights in the window: added, moved by hand, made to follow, turned off and taken away.
#include "app/driver.h"
#include "controls/choice_box.h"
#include "controls/note_label.h"
#include "grid/influence_grid.h"
#include "support/scenes.h"
#include "viewport/viewport.h"

#include <QPushButton>

namespace comet {
namespace {

class LightRowsTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    document().replace(test::withInfluence(test::starting(), "wind"), {});
    window_.showPage(MainWindow::Shape);
    QApplication::processEvents();
    grid_ = test::child<InfluenceGrid>(window_, "influence_grid");
    test::click(test::child<QPushButton>(window_, "add_light"));
  }
  const Item& light() { return *scene().findByName("light"); }
  void choose(const char* param, const char* option) {
    document().setBase(light().id, param, std::string(option));
    QApplication::processEvents();
  }

  // Rows are made for parameters that apply, a few at a time.
  bool shows(const char* param) {
    const auto* found = inspector().findChild<ParamRow*>(QString("param.%1").arg(param));
    return found && found->isVisibleTo(&window_);
  }

  InfluenceGrid* grid_ = nullptr;
};

TEST_F(LightRowsTest, OneClickAddsOneThatIsSelectedAndCanBeUndone) {
  EXPECT_EQ(document().selected(), light().id);
  EXPECT_TRUE(test::eventually([this] { return shows("strength"); }));
  document().undo();
  EXPECT_FALSE(scene().findByName("light"));
}

TEST_F(LightRowsTest, ItsRowTurnsItOffAndKeyRemovesIt) {
  const QRect head = grid_->rowHeadRect(1);
  test::click(grid_, grid_->switchRect(head).center());
  EXPECT_FALSE(light().enabled);
  document().select(scene().findByName("wind")->id);
  test::click(grid_, head.center());
  EXPECT_EQ(document().selected(), light().id);
  // Beside it there are no responses to choose.
  test::click(grid_, grid_->cellRect(1, 0).center());
  EXPECT_EQ(document().selected(), light().id);
  grid_->setFocus();
  QTest::keyClick(grid_, Qt::Key_Delete);
  EXPECT_FALSE(scene().findByName("light"));
}

TEST_F(LightRowsTest, IsMovedInTheViewportInOneStep) {
  Viewport& viewport = window_.viewport();
  const Vec3d before = light().vector("position", 1);
  const QPoint handle = viewport.handle(-1).toPoint();
  test::drag(&viewport, handle, handle + QPoint(50, 30));
  const Vec3d after = light().vector("position", 1);
  EXPECT_GT(after.x, before.x + 0.2);
  EXPECT_LT(after.y, before.y - 0.1);
  document().undo();
  EXPECT_EQ(light().vector("position", 1), before);
}

TEST_F(LightRowsTest, ShowsWhatAppliesAndSaysWhyItFollowsNothing) {
  EXPECT_FALSE(shows("direction"));
  EXPECT_FALSE(shows("flicker_rate"));
  document().setBase(light().id, "flicker", 40.0);
  QApplication::processEvents();
  EXPECT_TRUE(test::eventually([this] { return shows("flicker_rate"); }));
  document().setBase(light().id, "follow", ItemRef{"emitter", 0});
  QApplication::processEvents();
  EXPECT_FALSE(shows("position"));
  EXPECT_TRUE(test::eventually([this] { return shows("follow_what"); }));
  choose("follow_what", "oldest");
  document().edit(scene().withEnabled(scene().findByName("emitter")->id, false), "off");
  auto* note = test::child<NoteLabel>(window_, "light_problem");
  EXPECT_TRUE(QTest::qWaitFor([&] { return note->text().contains("\"emitter\" is off"); }));
  choose("type", "directional");
  EXPECT_TRUE(test::eventually([this] { return shows("direction"); }));
  EXPECT_FALSE(shows("follow"));
}

}  // namespace
}  // namespace comet
