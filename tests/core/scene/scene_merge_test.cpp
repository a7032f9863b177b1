#include "scene/scene_merge.h"

#include "presets.h"
#include "scene/item_reference.h"
#include "scene/scene_file.h"
#include "support/scenes.h"

#include <rapidcheck.h>

namespace comet {
namespace {

ItemId idOf(const Scene& scene, const char* name) { return scene.findByName(name)->id; }

TEST(SceneMerge, InfluencesThatComeActOnWhatCameOnly) {
  const Scene here = test::withInfluence(test::withInfluence(test::starting(), "wind"), "deflector");
  const Scene other = test::withInfluence(test::with(test::oneBurst(), {}), "vortex");
  const Merged merged = withItemsOf(here, other);
  const ItemId came = merged.added.front(), vortex = idOf(merged.scene, "vortex");
  EXPECT_TRUE(merged.scene.response(came, vortex).acts());
  EXPECT_FALSE(merged.scene.response(idOf(here, "emitter"), vortex).acts());
  EXPECT_FALSE(merged.scene.response(came, idOf(here, "wind")).acts()) << "it moves as it did";
  EXPECT_TRUE(merged.scene.response(came, idOf(here, "deflector")).acts()) << "but not through walls";
  const Merged withGround =
      withItemsOf(here, test::withInfluence(other, "deflector", {"deflector.bounce=7"}));
  EXPECT_FALSE(withGround.scene.response(withGround.added.front(), idOf(here, "deflector")).acts());
}

TEST(SceneMerge, WhatIsHereAlreadyIsShared) {
  const Scene here = test::withInfluence(test::starting(), "gravity");
  const Merged same = withItemsOf(here, test::withInfluence(test::oneBurst(), "gravity"));
  EXPECT_EQ(same.scene.itemsOf(ItemFamily::Influence).size(), 1U);
  EXPECT_TRUE(same.scene.response(same.added.front(), idOf(here, "gravity")).acts());
  const Merged weaker =
      withItemsOf(here, test::withInfluence(test::oneBurst(), "gravity", {"gravity.strength=2"}));
  EXPECT_EQ(weaker.scene.itemsOf(ItemFamily::Influence).size(), 2U);
  EXPECT_FALSE(weaker.scene.response(weaker.added.front(), idOf(here, "gravity")).acts())
      << "or it would fall twice";
  EXPECT_TRUE(weaker.scene.response(idOf(here, "emitter"), idOf(here, "gravity")).acts());
}

TEST(SceneMerge, NamesAndReferencesFollow) {
  const Scene family = test::withChild(test::oneBurst(), "parent_death", {});
  const Merged once = withItemsOf(family, family);
  ASSERT_EQ(once.added.size(), 2U);
  const Scene::ItemPtr child = once.scene.find(once.added[1]);
  EXPECT_EQ(child->name, "child 2");
  EXPECT_EQ(child->reference("parent"), once.added[0]);
  EXPECT_EQ(once.scene.findByName("child")->reference("parent"), idOf(family, "emitter"));
  checkReferences(once.scene);
}

// Whatever is taken over into whatever, the outcome is a scene that can be saved and read.
TEST(SceneMerge, MergedScenesAreScenes) {
  EXPECT_TRUE(rc::check([] {
    const auto& presets = builtInPresets();
    const auto any = [&] { return presets[*rc::gen::inRange<std::size_t>(0, presets.size())].scene; };
    Scene scene = test::busyScene();
    for (int i = 0; i < 3; ++i) scene = withItemsOf(scene, any()).scene;
    checkReferences(scene);
    RC_ASSERT(textFromScene(sceneFromText(textFromScene(scene), catalog())) == textFromScene(scene));
  }));
}

}  // namespace
}  // namespace comet
