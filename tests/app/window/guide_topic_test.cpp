// Which page of the guide tells of a control.
#include "window/guide_topic.h"

#include "app/driver.h"
#include "catalog.h"
#include "window/guide_view.h"

#include <set>

namespace comet {
namespace {

TEST(GuideTopic, EverySectionOfEveryKindHasItsPage) {
  std::set<QString> files;
  for (const GuidePage& page : guidePages()) files.insert(page.file);
  for (const KindSpec* kind : catalog().kinds())
    for (const ParamSpec& spec : kind->params())
      EXPECT_EQ(files.count(guidePageOf(*kind, spec.section)), 1U) << kind->id() << ", " << spec.section;
}

class GuideTopics : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    newSceneAtRest();
  }
  GuideTopic topicOf(const QWidget* widget) { return guideTopicOf(widget, document()); }
};

TEST_F(GuideTopics, AParameterIsFoundOnThePageOfItsSection) {
  const GuideTopic rate = topicOf(field("rate"));
  EXPECT_EQ(rate.file, "birth.md");
  EXPECT_EQ(rate.words, "Rate");
  document().select(scene().camera().id);
  EXPECT_EQ(topicOf(field("exposure")).file, "looks.md");
  test::addInfluence(window_, "Flock");
  EXPECT_EQ(topicOf(test::child<QWidget>(inspector(), "item_name")).file, "flocks.md");
}

TEST_F(GuideTopics, PanelsHavePagesToo) {
  for (const auto& [name, file] : {std::pair("influence_grid", "influences.md"),
                                   {"life_chart", "life.md"},
                                   {"lane.size", "life.md"},
                                   {"timeline", "keys.md"},
                                   {"viewport", "viewport.md"},
                                   {"preset_panel", "presets.md"},
                                   {"bake_start", "bake.md"}})
    EXPECT_EQ(topicOf(test::child<QWidget>(window_, name)).file, file) << name;
  EXPECT_EQ(topicOf(test::child<QWidget>(window_, "start_new")).file, "") << "nothing tells of it";
}

}  // namespace
}  // namespace comet
