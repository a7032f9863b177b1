// The shapes that come with the program to begin with.
#include "base/vec.h"
#include "geometry/mesh_content.h"
#include "scene_files.h"

#include <algorithm>
#include <gtest/gtest.h>

namespace comet {
namespace {

std::shared_ptr<const MeshContent> shape(const std::string& name) {
  const FileRef file = readSceneFile(FileKind::Mesh, "sample:" + name + ".obj", {}, nullptr);
  return std::dynamic_pointer_cast<const MeshContent>(file.content);
}

TEST(BasicShapes, AreAsLongAsOneAndEncloseWhatTheyShould) {
  struct Solid {
    const char* name;
    double volume;
  };
  // Of round ones a little less: they have 24 sides.
  for (const Solid& solid : {Solid{"ball", kPi / 6}, Solid{"box", 1}, Solid{"cone", kPi / 12},
                             Solid{"cylinder", kPi / 4}, Solid{"ring", 2 * kPi * kPi * 0.38 * 0.12 * 0.12}}) {
    const auto content = shape(solid.name);
    ASSERT_NE(content, nullptr) << solid.name;
    EXPECT_TRUE(content->report().isClosed()) << solid.name;
    const Vec3d extent = content->mesh().bounds().extent();
    EXPECT_NEAR(std::max({extent.x, extent.y, extent.z}), 1, 0.01) << solid.name;
    EXPECT_GT(volumeOf(content->mesh()), 0.93 * solid.volume) << solid.name;
    EXPECT_LT(volumeOf(content->mesh()), 1.001 * solid.volume) << solid.name;
  }
  EXPECT_TRUE(shape("crystal")->report().isClosed());
  EXPECT_GT(volumeOf(shape("crystal")->mesh()), 0);
}

TEST(BasicShapes, ALeafIsASheet) {
  const auto leaf = shape("leaf");
  ASSERT_NE(leaf, nullptr);
  EXPECT_FALSE(leaf->report().isClosed());
  EXPECT_NEAR(leaf->mesh().bounds().extent().x, 1, 0.01);
}

}  // namespace
}  // namespace comet
