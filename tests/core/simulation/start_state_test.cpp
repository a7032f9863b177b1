#include "simulation/start_state.h"

#include "base/error.h"
#include "scene/scene_file.h"
#include "simulation/plan.h"
#include "support/scenes.h"

namespace comet {
namespace {

using test::simulate;
using test::starting;
using test::with;

// Nothing in it depends on the number of the frame.
Scene steadyScene() {
  Scene scene = with(starting(), {"emitter.rate=517", "emitter.lifetime=1.5±0.7", "emitter.speed=3±2"});
  scene = test::withInfluence(scene, "gravity");
  scene = test::withInfluence(scene, "spin");
  return test::withInfluence(scene, "drag");
}

TEST(StartState, GoesOnBitForBit) {
  const Scene scene = steadyScene();
  const Scene started = withStartState(scene, *simulate(scene, 31)->particles);
  EXPECT_EQ(simulate(started, 1)->particles->digest(), simulate(scene, 31)->particles->digest());
  EXPECT_EQ(simulate(started, 2)->particles->digest(), simulate(scene, 32)->particles->digest());
  EXPECT_EQ(simulate(started, 40)->particles->digest(), simulate(scene, 70)->particles->digest());
}

TEST(StartState, SurvivesTheFileAndIsClearedAgain) {
  const Scene scene = steadyScene();
  const Scene started = withStartState(scene, *simulate(scene, 20)->particles);
  const Scene reread = sceneFromText(textFromScene(started), catalog());
  EXPECT_TRUE(hasStartState(reread));
  EXPECT_EQ(simulate(reread, 5)->particles->digest(), simulate(started, 5)->particles->digest());
  EXPECT_EQ(withoutStartState(reread), scene);
}

TEST(StartState, AnEmptyFrameIsAStartStateToo) {
  const Scene started = withStartState(steadyScene(), ParticleState());
  EXPECT_EQ(simulate(started, 1)->report->stats.living, 0U);
}

TEST(StartState, GasGoesOnBitForBit) {
  const Scene scene = with(test::gasScene(), {"source.noise=0", "gas.resolution=16"});
  const SceneFramePtr taken = simulate(scene, 12);
  const Scene started =
      sceneFromText(textFromScene(withStartState(scene, *taken->particles, *taken->gases)), catalog());
  EXPECT_EQ(simulate(started, 1)->gases->digest(), taken->gases->digest());
  EXPECT_EQ(simulate(started, 9)->gases->digest(), simulate(scene, 20)->gases->digest());
}

TEST(StartState, GasIsBroughtIntoTheVoxelsThatItHasNow) {
  const Scene scene = with(test::gasScene(), {"gas.resolution=16"});
  const SceneFramePtr taken = simulate(scene, 24);
  const auto volumeIn = [](const SceneFramePtr& frame) {
    const PackedGas& gas = *frame->gases->gases.front().content;
    double sum = 0;
    for (const float each : gas.density()) sum += static_cast<double>(each);
    return sum * std::pow(gas.grid().voxel, 3);
  };
  const Scene fine = with(withStartState(scene, *taken->particles, *taken->gases), {"gas.resolution=40"});
  const double before = volumeIn(taken), after = volumeIn(simulate(fine, 1));
  EXPECT_NEAR(after, before, 0.03 * before);
  EXPECT_GT(simulate(fine, 1)->gases->gases.front().content->grid().counts[0], 16U);
  // What lies beyond the old box begins empty.
  const Scene moved = with(withStartState(scene, *taken->particles, *taken->gases), {"gas.position=100,3,0"});
  EXPECT_EQ(volumeIn(simulate(moved, 1)), 0);
}

TEST(StartState, TooMuchGasIsRefused) {
  const GasGrid grid{{512, 256, 128}, 0.1, Vec3d(0.0), {}};
  GasState state = emptyGas(grid);
  state.density.assign(state.density.size(), 1.0F);
  state.temperature.assign(state.temperature.size(), 1.0F);
  GasesState gases;
  gases.gases.push_back({1, std::make_shared<const PackedGas>(grid, state)});
  try {
    (void)withStartState(steadyScene(), ParticleState(), gases);
    FAIL() << "not refused";
  } catch (const Error& error) {
    EXPECT_EQ(error.kind(), ErrorKind::Budget);
    EXPECT_FALSE(error.remedy().empty());
  }
}

TEST(StartState, EmittersThatAreGoneLeaveNothingBehind) {
  const Scene scene = steadyScene();
  const Scene started = withStartState(scene, *simulate(scene, 20)->particles);
  EXPECT_EQ(simulate(started.withoutItem(scene.findByName("emitter")->id), 3)->report->stats.living, 0U);
}

TEST(StartState, DamageIsRefusedWhereverItIs) {
  const Scene started = withStartState(steadyScene(), *simulate(steadyScene(), 4)->particles);
  const std::string bytes = *std::get<Data>(started.settings().value("start_state").base).bytes;
  const auto refuses = [&started](std::string damaged) {
    ParamValue value;
    value.base = Data{std::make_shared<const std::string>(std::move(damaged))};
    const Scene scene = started.withParam(started.settings().id, "start_state", value);
    try {
      (void)startStateOf(scene);
      return false;
    } catch (const Error& error) {
      return error.kind() == ErrorKind::Input && !error.remedy().empty();
    }
  };
  EXPECT_FALSE(refuses(bytes));
  for (const std::size_t length : {std::size_t{0}, std::size_t{7}, std::size_t{30}, bytes.size() - 1})
    EXPECT_TRUE(refuses(bytes.substr(0, length))) << length;
  EXPECT_TRUE(refuses(bytes + "x"));
  EXPECT_TRUE(refuses("something else" + bytes));
  std::string huge = bytes;
  for (std::size_t i = 32; i < 40; ++i) huge[i] = '\x7F';  // how many particles follow
  EXPECT_TRUE(refuses(huge));
}

TEST(WarmUp, IsWhatWouldHaveHappenedBefore) {
  const Scene scene = steadyScene();
  // Two seconds are 48 frames: frame 1 is what frame 49 is without.
  EXPECT_EQ(simulate(with(scene, {"scene.warm_up=2"}), 1)->particles->digest(),
            simulate(scene, 49)->particles->digest());
  EXPECT_EQ(firstSimulatedFrame(with(scene, {"scene.warm_up=2"})), -47);
}

TEST(WarmUp, GivesWayToAStartState) {
  const Scene scene = with(steadyScene(), {"scene.warm_up=2"});
  EXPECT_EQ(firstSimulatedFrame(withStartState(scene, *simulate(scene, 5)->particles)), 1);
}

}  // namespace
}  // namespace comet
