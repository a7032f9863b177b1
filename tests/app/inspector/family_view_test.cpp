// Child emitters, rules and trails in the real window.
#include "app/driver.h"
#include "controls/choice_box.h"
#include "inspector/births_note.h"
#include "support/scenes.h"
#include "timeline/timeline.h"
#include "viewport/viewport.h"

#include <QLabel>
#include <QPixmap>
#include <QToolButton>

namespace comet {
namespace {

class FamilyViewTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    window_.showPage(MainWindow::Shape);
    const Scene pods = test::with(test::starting(), {"emitter.rate=4", "emitter.lifetime=1"});
    document().replace(pods.withAdded(newItem(*catalog().find("emitter"), "fluff")), {});
    select("fluff");
  }
  void select(const char* name) {
    document().select(scene().findByName(name)->id);
    QApplication::processEvents();
  }
  // By the keyboard, one entry at a time, as a user would. Each may lead to other fields.
  void choose(const char* param, const QString& name, const QString& label) {
    const auto box = [&] { return test::child<QComboBox>(*row(param), name); };
    const int index = box()->findText(label);
    ASSERT_GE(index, 0) << label.toStdString();
    for (int tries = 0; box()->currentIndex() != index; ++tries) {
      ASSERT_LT(tries, 50);
      QComboBox* now = box();
      now->setFocus();
      QTest::keyClick(now, now->currentIndex() < index ? Qt::Key_Down : Qt::Key_Up);
      QApplication::processEvents();
    }
  }
  NumberField* number(const QString& name) { return test::child<NumberField>(*row("rules"), name); }
  void press(const QString& name) {
    test::click(test::child<QPushButton>(*row("rules"), name));
    QApplication::processEvents();
  }
  SceneFramePtr frameAt(int frame) {
    EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
    return window_.backgroundRun().frame(frame);
  }
  std::size_t alive(const char* name, int frame) {
    const SceneFramePtr now = frameAt(frame);
    return now->particles->find(scene().findByName(name)->id)->particles.size();
  }
};

TEST_F(FamilyViewTest, AnEmitterBecomesAChild) {
  EXPECT_FALSE(isShown("parent"));
  choose("birth_trigger", "choice", "Parent death");
  EXPECT_TRUE(isShown("parent"));
  EXPECT_TRUE(isShown("births_per_event"));
  EXPECT_FALSE(isShown("rate"));
  EXPECT_EQ(alive("fluff", 60), 0U) << "it comes from nobody yet";
  choose("parent", "item", "emitter");
  EXPECT_EQ(scene().findByName("fluff")->reference("parent"), scene().findByName("emitter")->id);
  EXPECT_GT(alive("fluff", 60), 20U);
  document().undo();
  EXPECT_EQ(scene().findByName("fluff")->reference("parent"), 0U);
}

TEST_F(FamilyViewTest, ADescendantCannotBeChosenAsParent) {
  choose("birth_trigger", "choice", "Parent birth");
  choose("parent", "item", "emitter");
  select("emitter");
  choose("birth_trigger", "choice", "Parent birth");
  auto* parents = test::child<QComboBox>(*row("parent"), "item");
  ASSERT_EQ(parents->count(), 1);
  EXPECT_EQ(parents->itemText(0), "none");
}

TEST_F(FamilyViewTest, ARuleIsWrittenAsASentence) {
  select("emitter");
  press("add_rule");
  choose("rules", "rule0.when0.kind", "random age between");
  test::type(number("rule0.when0.first"), "6");
  test::type(number("rule0.when0.second"), "12");
  choose("rules", "rule0.then0.kind", "burst");
  test::type(number("rule0.then0.first"), "30");
  choose("rules", "rule0.then0.item", "fluff");
  press("rule0.add_then");
  choose("rules", "rule0.then1.kind", "die");
  EXPECT_EQ(test::child<QLabel>(*row("rules"), "rule0.sentence")->text(),
            "When its age reaches a random one between 6 and 12 frames, once per particle: it gives 30 ± 0 "
            "births of fluff, it dies.");
  EXPECT_TRUE(scene().findByName("fluff")->chooses("birth_trigger", "rules"))
      << "who gets births by a rule takes them";
  EXPECT_GT(alive("fluff", 40), 60U);
  EXPECT_EQ(alive("fluff", 40) % 30, 0U);
  test::type(number("rule0.chance"), "0");
  EXPECT_EQ(alive("fluff", 40), 0U);
  test::click(test::child<QToolButton>(*row("rules"), "rule0.remove"));
  EXPECT_TRUE(std::get<RuleList>(scene().findByName("emitter")->value("rules").base).empty());
  document().undo();
  EXPECT_EQ(std::get<RuleList>(scene().findByName("emitter")->value("rules").base).size(), 1U);
}

TEST_F(FamilyViewTest, ConditionsAreAddedJoinedAndTakenAway) {
  select("emitter");
  press("add_rule");
  press("rule0.add_when");
  choose("rules", "rule0.join", "or");
  const auto ruleNow = [this] {
    return std::get<RuleList>(scene().findByName("emitter")->value("rules").base).front();
  };
  EXPECT_TRUE(ruleNow().anyOf);
  ASSERT_EQ(ruleNow().when.size(), 2U);
  choose("rules", "rule0.most", "unlimited");
  EXPECT_EQ(ruleNow().max, 0);
  test::click(test::child<QToolButton>(*row("rules"), "rule0.when0.remove"));
  ASSERT_EQ(ruleNow().when.size(), 1U);
  EXPECT_EQ(static_cast<RuleWhen>(ruleNow().when.front().form), RuleWhen::Speed);
}

TEST_F(FamilyViewTest, ATrailIsSeenAndTakesNoNewRun) {
  select("emitter");
  document().setFrame(30);
  ASSERT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
  auto* viewport = test::child<Viewport>(window_, "viewport");
  const auto lit = [viewport] {
    const QImage image = viewport->grab().toImage();
    int count = 0;
    for (int y = 0; y < image.height(); ++y)
      for (int x = 0; x < image.width(); ++x) count += qGray(image.pixel(x, y)) > 120 ? 1 : 0;
    return count;
  };
  ASSERT_TRUE(test::eventually([&] { return lit() > 20; }));
  const int before = lit();
  EXPECT_FALSE(isShown("trail_time"));
  choose("trail", "choice", "Ribbon");
  EXPECT_TRUE(isShown("trail_time"));
  EXPECT_TRUE(window_.backgroundRun().isComplete()) << "looks do not simulate anything";
  EXPECT_TRUE(test::eventually([&] { return lit() > 2 * before; }));
}

TEST_F(FamilyViewTest, ASurfaceSaysWhatItTakesAndWhenThatIsTooMuch) {
  select("emitter");
  document().setFrame(30);
  choose("surface", "choice", "Trails");
  auto* note = test::child<QLabel>(inspector(), "surface_note");
  const auto says = [note](const QString& words) {
    return test::eventually([&] { return note->text().contains(words); });
  };
  EXPECT_TRUE(says("choose a trail"));
  choose("surface", "choice", "Particles");
  EXPECT_TRUE(says("MB of voxels in this frame"));
  test::type(field("surface_voxel_size"), "0.0005");
  EXPECT_TRUE(says("raise the voxel size"));
  EXPECT_TRUE(note->property("trouble").toBool());
}

}  // namespace
}  // namespace comet
