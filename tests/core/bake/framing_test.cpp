#include "bake/framing.h"

#include "bake/checks/bake_check.h"
#include "support/scenes.h"

#include <gtest/gtest.h>

namespace comet {
namespace {

using test::with;

// One hard dot that rises from y = 1 to y = 1 + 3 · 23/24, one unit wide.
Scene rising() {
  return with(test::oneBurst(),
              {"emitter.size=1", "emitter.position=4,1,-2", "emitter.hardness=100", "scene.last_frame=24",
               "flipbook.first=1", "flipbook.last=24", "flipbook.step=1", "flipbook.columns=6",
               "flipbook.rows=4", "flipbook.cell_width=32", "flipbook.cell_height=32", "flipbook.margin=0"});
}

std::optional<Camera> fitted(const Scene& scene) {
  SceneRun run(scene, test::roomyCache());
  return fittedView(run, flipbookLayout(scene, *scene.findByName("flipbook")), Progress());
}

TEST(Framing, HoldsTheWholeWayAndNoMore) {
  const auto view = fitted(rising());
  ASSERT_TRUE(view);
  const double height = 3 * 23.0 / 24 + 1;
  EXPECT_EQ(view->projection, Camera::Projection::Orthographic);
  EXPECT_NEAR(view->height, height, 0.06 * height);
  EXPECT_GE(view->height, height) << "nothing may be cut off";
  EXPECT_NEAR(view->aim.x, 4, 0.05);
  EXPECT_NEAR(view->aim.y, 1 + 3 * 23.0 / 48, 0.06);
}

TEST(Framing, LeavesTheMarginFree) {
  const Scene scene = with(rising(), {"flipbook.margin=10"});
  EXPECT_NEAR(fitted(scene)->height, fitted(rising())->height / 0.8, 0.05);
}

TEST(Framing, LongEffectsFitTheWidthOfAWideCell) {
  const auto view = fitted(with(rising(), {"flipbook.cell_width=64"}));
  const double height = 3 * 23.0 / 24 + 1;
  EXPECT_NEAR(view->height, height, 0.06 * height) << "the width does not bind";
}

TEST(Framing, FindsAnEffectFarOutOfView) {
  const auto view = fitted(with(rising(), {"flipbook.position=500,20,10", "flipbook.aim=500,20,0"}));
  ASSERT_TRUE(view);
  EXPECT_NEAR(view->aim.x, 4, 0.1);
  EXPECT_LT(view->height, 4.5);
}

TEST(Framing, APerspectiveViewKeepsItsPlace) {
  const Scene scene = with(rising(), {"flipbook.projection=perspective", "flipbook.position=4,2,12",
                                      "flipbook.aim=4,2,0", "flipbook.margin=4"});
  const auto view = fitted(scene);
  ASSERT_TRUE(view);
  EXPECT_EQ(view->place, Vec3d(4, 2, 12));
  const Scene framed = withFittedView(scene, scene.findByName("flipbook")->id, *view);
  SceneRun run(framed, test::roomyCache());
  const Flipbook book = bakeFlipbook(run, flipbookLayout(framed, *framed.findByName("flipbook")), Progress());
  SeenBox box;
  for (std::size_t i = 0; i < book.cells.size(); ++i) box.add(seenBox(cellOf(book.color, book.layout, i)));
  EXPECT_GT(box.top, 0);
  EXPECT_LT(box.bottom, 1);
  EXPECT_GT(box.bottom - box.top, 0.8);
}

TEST(Framing, EmittersThatAreNotInTheBakeDoNotCount) {
  Scene scene = rising();
  Item other = *scene.findByName("emitter");
  other.name = "other";
  scene = with(scene.withDuplicate(other.id, other), {"other.position=40,1,0"});
  const double both = fitted(scene)->height;
  scene = scene.withResponse(scene.findByName("other")->id, scene.findByName("flipbook")->id, {std::nullopt});
  EXPECT_LT(fitted(scene)->height, 5);
  EXPECT_GT(both, 30);
}

// Faint tails, glow and blur included, in every cell and not only in those that a fit would sample.
TEST(Framing, WhatIsFittedLiesInsideTheMarginInEveryCell) {
  const std::vector<std::vector<std::string>> effects{
      {"emitter.blend=additive", "emitter.hardness=0", "emitter.size=0.7"},
      {"emitter.blend=additive", "camera.glow=true", "camera.glow_threshold=0", "camera.glow_strength=80",
       "camera.glow_size=6", R"(emitter.color=[{"at":0,"color":[3,2,1]}])"},
      {"camera.shutter=360", "camera.shutter_samples=8", "emitter.speed=9", "emitter.size=0.2"},
      {"emitter.size=0.02", "emitter.speed=5±4", "emitter.cone=180"}};
  for (const auto& assignments : effects) {
    Scene scene = with(rising(), {"flipbook.last=24", "flipbook.margin=4", "emitter.cone=50",
                                  "emitter.speed=3±2", R"(emitter.bursts=[{"frame":1,"count":30}])",
                                  "flipbook.cell_width=96", "flipbook.cell_height=96"});
    for (const std::string& assignment : assignments) scene = with(scene, {assignment});
    const auto view = fitted(scene);
    ASSERT_TRUE(view);
    const Scene framed = withFittedView(scene, scene.findByName("flipbook")->id, *view);
    SceneRun run(framed, test::roomyCache());
    const Flipbook book =
        bakeFlipbook(run, flipbookLayout(framed, *framed.findByName("flipbook")), Progress());
    SeenBox all;
    for (std::size_t i = 0; i < book.cells.size(); ++i) {
      const SeenBox box = seenBox(cellOf(book.color, book.layout, i));
      if (box.empty()) continue;
      // A pixel for what supersampling shows that single samples miss.
      EXPECT_GE(std::min(box.left, box.top), 0.04 - 2.0 / 96) << assignments.front() << ", cell " << i;
      EXPECT_LE(std::max(box.right, box.bottom), 0.96 + 2.0 / 96) << assignments.front() << ", cell " << i;
      all.add(box);
    }
    // Dots of a small part of a pixel are seen a little less far out in the smaller cells than in the trial.
    EXPECT_GT(std::max(all.right - all.left, all.bottom - all.top), 0.7)
        << assignments.front() << ": and it fills the cell";
    for (const Finding& finding : checkBake(book, framed))
      EXPECT_NE(finding.check, "clipped") << finding.text;
  }
}

TEST(Framing, NothingToSeeIsTold) { EXPECT_FALSE(fitted(with(rising(), {"emitter.bursts=[]"}))); }

}  // namespace
}  // namespace comet
