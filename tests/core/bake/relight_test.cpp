#include "bake/relight.h"

#include "bake/bake_sheet.h"
#include "support/scenes.h"

#include <glm/geometric.hpp>
#include <gtest/gtest.h>

namespace comet {
namespace {

using test::with;

// One large ball of 48 pixels in the middle of a cell of 64.
class Relight : public testing::Test {
 protected:
  void SetUp() override {
    const Scene scene =
        with(test::oneBurst(),
             {"emitter.speed=0", "emitter.size=3", "emitter.position=0,2,0", "emitter.hardness=100",
              "flipbook.view=own", "flipbook.height=4", "flipbook.first=2", "flipbook.last=2",
              "flipbook.cell_width=64", "flipbook.cell_height=64", "flipbook.columns=1", "flipbook.rows=1",
              "flipbook.normal_sheet=true", "flipbook.six_way_lighting=true"});
    SceneRun run(scene, std::make_shared<FrameCache>(std::size_t{1} << 28));
    book_ = bakeFlipbook(run, flipbookLayout(scene, *scene.findByName("flipbook")), Progress());
  }
  Vec3 value(DataLayer layer, int x, int y) const { return Vec3(book_.data.at(layer).values.at(x, y)); }

  Flipbook book_;
};

TEST_F(Relight, NormalsAreThoseOfABall) {
  for (int y = 12; y < 52; y += 5)
    for (int x = 12; x < 52; x += 5) {
      const Vec2d place((x + 0.5 - 32) / 24, (32 - y - 0.5) / 24);
      if (glm::length(place) > 0.93) continue;
      const Vec3 normal = value(DataLayer::Normal, x, y);
      EXPECT_NEAR(normal.x, place.x, 0.01) << x << ", " << y;
      EXPECT_NEAR(normal.y, place.y, 0.01);
      EXPECT_NEAR(glm::length(normal), 1, 1e-3);
    }
}

TEST_F(Relight, NormalsGoOnBeyondTheBall) {
  EXPECT_GT(value(DataLayer::Normal, 63, 32).x, 0.7F);
  EXPECT_EQ(book_.data.at(DataLayer::Normal).values.at(63, 32).w, 0);
}

TEST_F(Relight, EachSideIsBrightestWhereItsLightComesFrom) {
  const Vec3 right = value(DataLayer::LightA, 50, 32), left = value(DataLayer::LightA, 14, 32);
  EXPECT_GT(right.x, 4 * left.x) << "lit from the right";
  EXPECT_GT(value(DataLayer::LightA, 32, 14).y, 4 * value(DataLayer::LightA, 32, 50).y) << "lit from the top";
  EXPECT_GT(value(DataLayer::LightB, 32, 32).z, 0.95F) << "the front lights the middle";
  EXPECT_LT(value(DataLayer::LightA, 32, 32).z, 0.1F) << "nothing comes through a full ball from behind";
}

TEST_F(Relight, OppositeLightsAreMirrored) {
  for (int y = 16; y < 48; y += 7)
    for (int x = 16; x < 48; x += 7) {
      EXPECT_NEAR(value(DataLayer::LightA, x, y).x, value(DataLayer::LightB, 63 - x, y).x, 2e-3);
      EXPECT_NEAR(value(DataLayer::LightA, x, y).y, value(DataLayer::LightB, x, 63 - y).y, 2e-3);
    }
}

TEST(SixLightsAlone, ThinCoverLetsLightThrough) {
  Picture thin(16, 16), normals(16, 16);
  for (int y = 0; y < 16; ++y)
    for (int x = 0; x < 16; ++x) {
      thin.at(x, y) = Vec4(0.1F);
      normals.at(x, y) = Vec4(0, 0, 1, 1);
    }
  const SixLights lights = sixLights(thin, normals);
  // Light from behind loses what the cover takes: 1 - 0.1.
  EXPECT_NEAR(lights.rightTopBack.at(8, 8).z, 0.9, 1e-5);
  EXPECT_GT(lights.rightTopBack.at(15, 8).x, lights.rightTopBack.at(0, 8).x)
      << "and from the side on its way";
}

}  // namespace
}  // namespace comet
