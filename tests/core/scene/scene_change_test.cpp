#include "scene/scene_change.h"

#include "support/scenes.h"

namespace comet {
namespace {

using test::with;
using test::withInfluence;

std::string partsOf(const SceneChange& change) {
  std::string parts;
  if (change.simulation) parts += "simulation ";
  if (change.look) parts += "look ";
  if (change.view) parts += "view ";
  if (change.bake) parts += "bake ";
  return parts;
}

std::string partsBetween(const Scene& before, const Scene& after) {
  return partsOf(changeBetween(before, after));
}

TEST(SceneChange, SaysWhichPartsAParameterTouches) {
  const Scene scene = withInfluence(test::starting(), "gravity");
  EXPECT_EQ(partsBetween(scene, scene), "");
  EXPECT_EQ(partsBetween(scene, with(scene, {"emitter.rate=7"})), "simulation ");
  EXPECT_EQ(partsBetween(scene, with(scene, {"emitter.opacity=7"})), "look ");
  EXPECT_EQ(partsBetween(scene, with(scene, {"emitter.size=7"})), "simulation look ") << "deflectors may ask";
  EXPECT_EQ(partsBetween(scene, with(scene, {"camera.position=1,2,3"})), "view ");
  EXPECT_EQ(partsBetween(scene, with(scene, {"flipbook.columns=2"})), "bake ");
  EXPECT_EQ(partsBetween(scene, with(scene, {"scene.frame_rate=30"})), "simulation ");
}

TEST(SceneChange, SaysWhichItemsChanged) {
  const Scene scene = withInfluence(test::starting(), "gravity");
  const ItemId emitter = scene.findByName("emitter")->id, gravity = scene.findByName("gravity")->id;
  EXPECT_EQ(changeBetween(scene, with(scene, {"emitter.rate=7", "gravity.strength=2"})).items,
            (std::vector<ItemId>{emitter, gravity}));
  const SceneChange renamed = changeBetween(scene, scene.withName(gravity, "weight"));
  EXPECT_EQ(renamed.items, std::vector<ItemId>{gravity});
  EXPECT_EQ(partsOf(renamed), "");
}

TEST(SceneChange, KnowsWholeItemsTheirOrderAndResponses) {
  const Scene scene = withInfluence(test::starting(), "gravity");
  const ItemId emitter = scene.findByName("emitter")->id, gravity = scene.findByName("gravity")->id,
               flipbook = scene.findByName("flipbook")->id;
  EXPECT_EQ(partsBetween(scene, scene.withoutItem(gravity)), "simulation look ");
  EXPECT_EQ(partsBetween(scene, withInfluence(scene, "wind")), "simulation look ");
  EXPECT_EQ(partsBetween(scene, scene.withEnabled(emitter, false)), "simulation look ");
  EXPECT_EQ(partsBetween(scene, scene.withoutItem(flipbook)), "bake ");
  EXPECT_EQ(partsBetween(scene, scene.withResponse(emitter, gravity, {40})), "simulation ");
  EXPECT_EQ(partsBetween(scene, scene.withResponse(emitter, flipbook, {std::nullopt})), "bake ");
  const Scene two = scene.withAdded(newItem(*catalog().find("emitter"), "second"));
  const Scene moved = two.withMoved(two.findByName("second")->id, emitter);
  ASSERT_NE(moved, two);
  EXPECT_TRUE(changeBetween(two, moved).simulation) << "emitters are served in their order";
}

}  // namespace
}  // namespace comet
