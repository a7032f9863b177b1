#include "presets.h"

#include "base/error.h"
#include "geometry/mesh_content.h"
#include "scene_files.h"
#include "support/files.h"
#include "support/reader.h"
#include "support/scenes.h"

#include <map>
#include <set>

namespace comet {
namespace {

TEST(Presets, ThereAreManyOfEachCategoryWithNamesOfTheirOwn) {
  std::map<std::string, int> categories;
  std::set<std::string> names;
  for (const Preset& preset : builtInPresets()) {
    ++categories[preset.category];
    EXPECT_TRUE(names.insert(preset.name).second) << preset.name;
    EXPECT_FALSE(preset.words.empty()) << preset.name;
    EXPECT_TRUE(missingFiles(preset.scene).empty()) << preset.name;
    EXPECT_EQ(findBuiltInPreset(preset.name), &preset);
  }
  EXPECT_GE(names.size(), 30U);
  EXPECT_EQ(categories.count(""), 0U);
  for (const auto& [category, count] : categories) EXPECT_GE(count, 4) << category;
}

// Each gives particles, and none so many that it would be slow.
TEST(Presets, EachIsAliveAndQuick) {
  for (const Preset& preset : builtInPresets()) {
    const FrameRange range = frameRange(preset.scene);
    std::size_t most = 0;
    SceneRun run(preset.scene, test::roomyCache());
    for (int frame = range.first; frame <= range.last; frame += 4)
      most = std::max(most, run.frame(frame)->report->stats.living);
    EXPECT_GT(most, 0U) << preset.name;
    EXPECT_LT(most, 6000U) << preset.name;
  }
}

// In a scene of its own a preset does what it did in its file, but for the random numbers that follow its
// ids.
TEST(Presets, AddedOneDoesWhatItDoes) {
  for (const Preset& preset : builtInPresets()) {
    const Merged merged = withPreset(preset.scene, preset);
    for (const ItemId id : merged.added) {
      const Scene::ItemPtr copy = merged.scene.find(id);
      if (!responds(copy->kind->family())) continue;
      for (const Scene::ItemPtr& influence : preset.scene.itemsOf(ItemFamily::Influence)) {
        const auto counterpart = std::find_if(
            preset.scene.items().begin(), preset.scene.items().end(), [&](const Scene::ItemPtr& item) {
              return item->kind == copy->kind && copy->name.rfind(item->name, 0) == 0;
            });
        ASSERT_NE(counterpart, preset.scene.items().end());
        EXPECT_EQ(merged.scene.response(id, influence->id),
                  preset.scene.response((*counterpart)->id, influence->id))
            << preset.name << ": " << copy->name << ", " << influence->name;
      }
    }
  }
}

TEST(Presets, AnEmitterOfASceneIsKeptWithItsFamilyAndWhatActsOnIt) {
  const Scene scene = openDemo("marsh_bubbles");
  const Preset preset = presetOf(scene, scene.findByName("bubbles")->id);
  EXPECT_EQ(preset.name, "bubbles");
  EXPECT_TRUE(preset.scene.findByName("droplets")) << "born of it";
  EXPECT_TRUE(preset.scene.findByName("buoyancy"));
  EXPECT_TRUE(preset.scene.itemsOf(ItemFamily::Bake).empty());
  const test::TemporaryFolder folder;
  writePreset(folder / "my_bubbles.comet", preset);
  const Preset read = openPreset(folder / "my_bubbles.comet", test::reader());
  EXPECT_EQ(read.name, "my bubbles");
  EXPECT_EQ(read.scene.items().size(), preset.scene.items().size());
}

TEST(Presets, AFileWithoutEmittersIsRefusedByName) {
  const test::TemporaryFolder folder;
  writePreset(folder / "empty.comet",
              {"empty", {}, {}, test::starting().withoutItem(test::starting().findByName("emitter")->id)});
  try {
    static_cast<void>(openPreset(folder / "empty.comet", test::reader()));
    FAIL() << "nothing is wrong with it";
  } catch (const Error& error) {
    EXPECT_NE(std::string(error.what()).find("holds no emitter"), std::string::npos);
  }
}

TEST(Presets, MovedAsAWhole) {
  const Preset& drips = *findBuiltInPreset("drips");
  const Merged moved = withPreset(test::starting(), drips, {3, 0, -1});
  const Item& drops = *moved.scene.find(moved.added.front());
  EXPECT_EQ(drops.vector("position", 1),
            drips.scene.findByName("drops")->vector("position", 1) + Vec3d(3, 0, -1));
  EXPECT_EQ(moved.scene.findByName("ground")->vector("position", 1), Vec3d(3, 0, -1));
}

// On the paddle wheel, its particles are born on the wheel's surface.
TEST(Presets, OnAMeshItIsBornThere) {
  const Scene scene = openDemo("paddle_spray");
  const Scene::ItemPtr wheel = scene.findByName("wheel");
  const Merged merged = withPresetOn(scene, *findBuiltInPreset("embers"), wheel->id);
  const Item& embers = *merged.scene.find(merged.added.front());
  EXPECT_TRUE(embers.chooses("shape", "mesh"));
  EXPECT_EQ(embers.value("position"), wheel->value("position"));
  EXPECT_EQ(embers.value("rotation"), wheel->value("rotation")) << "with its keys: they turn with it";
  ASSERT_NE(embers.content<MeshContent>("mesh"), nullptr);
  EXPECT_EQ(embers.content<MeshContent>("mesh"), wheel->content<MeshContent>("mesh"));
}

}  // namespace
}  // namespace comet
