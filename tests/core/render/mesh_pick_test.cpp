#include "render/mesh_pick.h"

#include "scene_files.h"
#include "support/scenes.h"

namespace comet {
namespace {

TEST(MeshPick, TheFirstOneAlongARayIsMeant) {
  // A pebble of about one unit, and one twice as large behind it.
  Scene scene = test::starting();
  const auto add = [&](const char* name, double z, double size) {
    Item item = newItem(*catalog().find("deflector"), name);
    const auto set = [&](const char* param, Value value) {
      item.values[item.kind->indexOf(param)].base = std::move(value);
    };
    set("shape", std::string("mesh"));
    set("mesh", readSceneFile(FileKind::Mesh, "sample:pebble.obj", {}, nullptr));
    set("position", Vec3d(0, 0, z));
    set("mesh_scale", size);
    scene = scene.withAdded(std::move(item));
  };
  add("near", 5, 1);
  add("far", -5, 2);
  const auto along = [&](const Vec3d& from, const Vec3d& to) { return meshAlong(scene, 1, from, to - from); };
  const auto first = along({0, 0, 50}, {0, 0, 0});
  ASSERT_TRUE(first);
  EXPECT_EQ(first->item, scene.findByName("near")->id);
  EXPECT_NEAR(first->position.z, 5, 2);
  EXPECT_GT(first->position.z, 5) << "its front";
  EXPECT_EQ(along({0, 0, -50}, {0, 0, 0})->item, scene.findByName("far")->id);
  EXPECT_FALSE(along({0, 50, 50}, {0, 50, 0}));
  EXPECT_FALSE(along({0, 0, 50}, {0, 0, 100})) << "it lies behind";
  EXPECT_FALSE(meshAlong(scene.withEnabled(first->item, false), 1, {0, 0, 8}, {0, 0, -0.1})
                   .value_or(MeshPick{0, {}})
                   .item == first->item);
}

}  // namespace
}  // namespace comet
