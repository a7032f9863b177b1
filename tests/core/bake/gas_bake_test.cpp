// Gas in flipbooks: what the sheets say of it, against motions and places that are known.
#include "bake/bake_sheet.h"
#include "bake/framing.h"
#include "bake/line_export.h"
#include "io/volume_file.h"
#include "support/scenes.h"

namespace comet {
namespace {

using test::gasScene;
using test::with;

// A ball of gas at (1, 2, 3), held there, in air that a wind moves at 2 units a second to the right. Seen
// along z from 10 units away, 4 units high, in cells of 64 pixels.
Scene blownBall() {
  Scene scene = with(gasScene(), {"gas.position=1,2,3",
                                  "gas.size=4,4,4",
                                  "gas.resolution=20",
                                  "gas.buoyancy=0",
                                  "gas.vorticity=0",
                                  "source.position=1,2,3",
                                  "source.shape=sphere",
                                  "source.radius=0.5",
                                  "source.thickness=0",
                                  "source.amount=held",
                                  "source.density=2",
                                  "source.temperature=0",
                                  "source.noise=0",
                                  "flipbook.first=30",
                                  "flipbook.last=32",
                                  "flipbook.columns=2",
                                  "flipbook.rows=1",
                                  "flipbook.step=2",
                                  "flipbook.cell_width=64",
                                  "flipbook.cell_height=64",
                                  "flipbook.view=own",
                                  "flipbook.position=1,2,13",
                                  "flipbook.aim=1,2,3",
                                  "flipbook.height=4",
                                  "flipbook.supersampling=1",
                                  "flipbook.motion_vectors=sixteen",
                                  "flipbook.depth_sheet=true",
                                  "flipbook.normal_sheet=true"});
  return test::withInfluence(scene, "wind",
                             {"wind.direction=1,0,0", "wind.speed=2", "wind.air_drag=30", "wind.gusts=0"});
}

Flipbook baked(const Scene& scene) {
  SceneRun run(scene, test::roomyCache());
  return bakeFlipbook(run, flipbookLayout(scene, *scene.findByName("flipbook")), Progress());
}

TEST(GasBake, SheetsSayHowItMovesHowFarItIsAndHowItFaces) {
  const Flipbook book = baked(blownBall());
  EXPECT_GT(book.color.at(32, 32).w, 0.8F);
  // Two frames at 2 units a second, 16 pixels a unit.
  const Vec4 motion = book.data.at(DataLayer::Motion).values.at(32, 32);
  EXPECT_NEAR(motion.x, 2 * 2 / 24.0 * 16, 0.15);
  EXPECT_NEAR(motion.y, 0, 0.1);
  EXPECT_NEAR(book.cells[0].motion, 2 * 2 / 24.0 * 16, 0.4) << "the check knows it too";
  // The front of the ball is at z = 3.5.
  EXPECT_NEAR(book.data.at(DataLayer::Depth).values.at(32, 32).x, 9.5, 0.25);
  const Picture& normals = book.data.at(DataLayer::Normal).values;
  EXPECT_GT(normals.at(32, 39).y * -1, 0.3F) << "below its middle it faces down";
  EXPECT_GT(normals.at(32, 25).y, 0.3F);
  EXPECT_LT(normals.at(24, 32).x, -0.3F);
}

TEST(GasBake, SheetsHoldItsDensityAndTemperature) {
  // Held everywhere along the ray at the same values, whatever else there is.
  const Scene scene = with(gasScene(), {"gas.position=0,2,0",
                                        "gas.size=4,4,4",
                                        "gas.resolution=16",
                                        "gas.buoyancy=0",
                                        "gas.dissipation=0",
                                        "gas.cooling=0",
                                        "gas.vorticity=0",
                                        "source.shape=box",
                                        "source.extent=9,9,9",
                                        "source.position=0,2,0",
                                        "source.noise=0",
                                        "source.amount=held",
                                        "source.density=0.7",
                                        "source.temperature=250",
                                        "flipbook.density_sheet=true",
                                        "flipbook.temperature_sheet=true",
                                        "flipbook.first=3",
                                        "flipbook.last=3",
                                        "flipbook.columns=1",
                                        "flipbook.rows=1",
                                        "flipbook.view=own",
                                        "flipbook.cell_width=32",
                                        "flipbook.cell_height=32"});
  const Flipbook book = baked(scene);
  EXPECT_NEAR(book.data.at(DataLayer::Density).values.at(16, 16).x, 0.7, 1e-3);
  EXPECT_NEAR(book.data.at(DataLayer::Temperature).values.at(16, 16).x, 250, 0.5);
  EXPECT_EQ(book.data.at(DataLayer::Density).from, 0);
  EXPECT_NEAR(book.data.at(DataLayer::Density).to, 0.7, 1e-3);
}

// Fog that fills the view and the box of 4 units, and stops two parts of light on its way through (optical
// depth 2), all of it once.
Flipbook bakedFog(std::initializer_list<std::string> assignments = {}) {
  return baked(with(with(gasScene(), {"gas.position=0,2,0",     "gas.size=4,4,4",
                                      "gas.resolution=32",      "gas.buoyancy=0",
                                      "gas.dissipation=0",      "gas.vorticity=0",
                                      "gas.opacity=0.5",        "gas.scatterings=1",

                                      "source.shape=box",       "source.extent=9,9,9",
                                      "source.position=0,2,0",  "source.noise=0",
                                      "source.amount=held",     "source.density=1",
                                      "source.temperature=0",   "flipbook.six_way_lighting=true",
                                      "flipbook.first=12",      "flipbook.last=12",
                                      "flipbook.columns=1",     "flipbook.rows=1",
                                      "flipbook.view=own",      "flipbook.position=0,2,10",
                                      "flipbook.aim=0,2,0",     "flipbook.height=3.6",
                                      "flipbook.cell_width=36", "flipbook.cell_height=36"}),
                    assignments));
}

TEST(GasBake, LightsFromSixSidesGoThroughTheGas) {
  const Flipbook book = bakedFog();
  const Picture& a = book.data.at(DataLayer::LightA).values;
  const Picture& b = book.data.at(DataLayer::LightB).values;
  const double through = std::exp(-2.0), stopped = 1 - through;
  // What is stopped at a depth has come from the light, and goes on to the viewer.
  EXPECT_NEAR(b.at(18, 18).z, (1 - through * through) / 2 / stopped, 0.01) << "from the front";
  EXPECT_NEAR(a.at(18, 18).z, 2 * through / stopped, 0.01) << "from behind";
  // From the side it is the same all along the ray. Pixels are a tenth of a unit.
  EXPECT_NEAR(a.at(18, 18).x, std::exp(-0.5 * (2 - 0.05)), 0.01);
  EXPECT_NEAR(a.at(30, 18).x, std::exp(-0.5 * (2 - 1.25)), 0.01) << "from the right";
  EXPECT_NEAR(b.at(30, 18).x, std::exp(-0.5 * (2 + 1.25)), 0.01) << "from the left";
  EXPECT_NEAR(a.at(18, 6).y, std::exp(-0.5 * (2 - 1.15)), 0.01) << "from the top";
  EXPECT_NEAR(b.at(18, 6).y, std::exp(-0.5 * (2 + 1.15)), 0.01) << "from below";
}

TEST(GasBake, AgeSheetsAreAFractionOfTheFullAge) {
  // What is given in the step to frame 2 is eleven steps old in frame 12.
  const Flipbook book = bakedFog({"gas.color_by=age", "gas.full_age=2", "source.emits=frame_range",
                                  "source.emits_until=2", "flipbook.age_sheet=true"});
  EXPECT_GT(book.color.at(18, 18).w, 0.5F);
  EXPECT_NEAR(book.data.at(DataLayer::Age).values.at(18, 18).x, 11 / 24.0 / 2, 0.03);
}

TEST(GasBake, IsLeftOutOfABakeThatDoesNotRespondToIt) {
  Scene scene = blownBall();
  scene = scene.withResponse(scene.findByName("gas")->id, scene.findByName("flipbook")->id, {});
  const Flipbook book = baked(scene);
  for (const Vec4& pixel : book.color.pixels()) EXPECT_EQ(pixel, Vec4(0.0F));
}

TEST(GasBake, CrossFadesAndEvenMotionSeeIt) {
  const Scene scene =
      with(gasScene(), {"flipbook.first=20", "flipbook.last=44", "flipbook.frame_choice=motion",
                        "flipbook.loop=cross_fade", "flipbook.overlap=2", "flipbook.columns=4",
                        "flipbook.rows=2", "flipbook.cell_width=32", "flipbook.cell_height=32"});
  const Flipbook book = baked(scene);
  ASSERT_EQ(book.cells.size(), 8U);
  for (const CellFacts& cell : book.cells) EXPECT_GT(cell.energy, 0);
}

TEST(GasBake, TheViewIsFittedToIt) {
  // Far from where the bake looks.
  const Scene scene = with(gasScene(), {"gas.position=30,3,0", "source.position=30,0.5,0",
                                        "flipbook.view=own", "flipbook.first=20", "flipbook.last=24"});
  SceneRun run(scene, test::roomyCache());
  const auto view = fittedView(run, flipbookLayout(scene, *scene.findByName("flipbook")), Progress());
  ASSERT_TRUE(view);
  EXPECT_NEAR(view->aim.x, 30, 1);
}

TEST(GasBake, ItsVolumeIsReadAsAFieldOfVectors) {
  const SceneFramePtr frame = test::simulate(blownBall(), 30);
  const PackedGas& gas = *frame->gases->gases.front().content;
  const auto volumes = vectorVolumesFromBytes(encodeGas(gas), "gas.vdb");
  ASSERT_EQ(volumes.size(), 1U);
  EXPECT_EQ(volumes[0].name, "velocity");
  for (int axis = 0; axis < 3; ++axis) {
    EXPECT_NEAR(volumes[0].centre[axis], gas.grid().middle()[axis], 1e-9);
    EXPECT_NEAR(volumes[0].size[axis], 4, 1e-9);
  }
  EXPECT_NEAR(volumes[0].grid.at(10, 10, 10).x, 2, 0.05);
}

}  // namespace
}  // namespace comet
