// Which place of a gas a ray means, and what is read there.
#include "render/gas_pick.h"

#include "simulation/probe.h"
#include "support/scenes.h"

namespace comet {
namespace {

// A ball of gas of radius 1 about (0, 2, 0), held there at density 3 and 200 K, in a wind to the right.
Scene heldBall() {
  const Scene scene = test::with(
      test::gasScene(), {"gas.position=0,2,0", "gas.size=4,4,4", "gas.resolution=40", "gas.buoyancy=0",
                         "gas.vorticity=0", "gas.opacity=50", "gas.color_by=age", "source.shape=sphere",
                         "source.position=0,2,0", "source.radius=1", "source.thickness=0", "source.noise=0",
                         "source.amount=held", "source.density=3", "source.temperature=200"});
  return test::withInfluence(scene, "wind",
                             {"wind.direction=1,0,0", "wind.speed=2", "wind.air_drag=100", "wind.gusts=0"});
}

TEST(GasPick, MeansWhatIsSeenOfTheGas) {
  const Scene scene = heldBall();
  const SceneFramePtr frame = test::simulate(scene, 6);
  const auto pick = gasSeenAlong(scene, *frame, {0, 2, 10}, {0, 0, -1});
  ASSERT_TRUE(pick);
  EXPECT_EQ(pick->gas, scene.findByName("gas")->id);
  EXPECT_NEAR(pick->position.z, 1, 0.15) << "the front of the ball";
  EXPECT_NEAR(pick->position.x, 0, 1e-9);
  EXPECT_FALSE(gasSeenAlong(scene, *frame, {-1.7, 3.8, 10}, {0, 0, -1})) << "in the box, beside the gas";
  EXPECT_FALSE(gasSeenAlong(scene, *frame, {0, 2, 10}, {0, 0, 1})) << "behind the viewer";
  const auto cut = gasSeenAlong(test::with(scene, {"scene.clip=true", "scene.clip_direction=0,0,1"}), *frame,
                                {0, 2, 10}, {0, 0, -1});
  ASSERT_TRUE(cut);
  EXPECT_NEAR(cut->position.z, 0, 0.15) << "where the ball is cut open";
}

TEST(GasPick, TheVoxelThereIsRead) {
  const Scene scene = heldBall();
  const ItemId gas = scene.findByName("gas")->id;
  const SceneFramePtr frame = test::simulate(scene, 20);
  const auto voxel = probeGas(*frame, gas, {0.03, 2.08, 0.01});
  ASSERT_TRUE(voxel);
  EXPECT_EQ(voxel->voxel, (std::array<std::size_t, 3>{20, 20, 20}));
  EXPECT_NEAR(voxel->middle.x, 0.05, 1e-9);
  EXPECT_NEAR(voxel->edge, 0.1, 1e-9);
  EXPECT_NEAR(voxel->density, 3, 0.1);
  EXPECT_NEAR(voxel->temperature, 200, 10);
  EXPECT_NEAR(voxel->velocity.x, 2, 0.1);
  ASSERT_TRUE(voxel->age);
  EXPECT_LT(*voxel->age, 0.1) << "held gas is always new";
  EXPECT_FALSE(voxel->color) << "it carries none";
  EXPECT_FALSE(probeGas(*frame, gas, {2.1, 2, 0})) << "outside of the box";
  EXPECT_FALSE(probeGas(*frame, gas + 100, {0, 2, 0}));
}

}  // namespace
}  // namespace comet
