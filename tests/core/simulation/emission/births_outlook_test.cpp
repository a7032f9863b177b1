#include "simulation/emission/births_outlook.h"

#include "support/scenes.h"

#include <gmock/gmock.h>

namespace comet {
namespace {

using test::with;
using testing::HasSubstr;

BirthsOutlook outlookOf(const Scene& scene, const char* name = "emitter") {
  return birthsOutlook(scene, *scene.findByName(name), 1);
}

TEST(BirthsOutlook, SaysHowManyComeAndLive) {
  const BirthsOutlook outlook =
      outlookOf(with(test::starting(), {"emitter.rate=48", "emitter.lifetime=1", "scene.last_frame=97"}));
  EXPECT_EQ(outlook.none, "");
  EXPECT_NEAR(outlook.births(), 48 * 96 / 24.0, 1e-9);
  EXPECT_NEAR(outlook.peak(), 48, 3);
}

TEST(BirthsOutlook, SaysWhyThereAreNone) {
  const Scene scene = test::starting();
  EXPECT_THAT(outlookOf(with(scene, {"emitter.rate=0"})).none, HasSubstr("raise the rate"));
  EXPECT_THAT(outlookOf(with(scene, {"emitter.shape=mesh"})).none, HasSubstr("see Shape"));
  EXPECT_THAT(outlookOf(scene.withEnabled(scene.findByName("emitter")->id, false)).none, HasSubstr("off"));
  EXPECT_THAT(outlookOf(with(scene, {"emitter.emits=frame_range", "emitter.emits_from=500",
                                     "emitter.emits_until=600"}))
                  .none,
              HasSubstr("Emits"));
  EXPECT_THAT(outlookOf(with(scene, {"emitter.birth_trigger=rules"})).none, HasSubstr("no rule"));
  EXPECT_THAT(outlookOf(with(scene, {"emitter.birth_trigger=parent_death"})).none, HasSubstr("choose whose"));
  const BirthsOutlook child = outlookOf(test::withChild(scene, "parent_death", {}), "child");
  EXPECT_TRUE(child.isChild);
  EXPECT_EQ(child.none, "");
}

}  // namespace
}  // namespace comet
