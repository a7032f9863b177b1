// Gases as parts of scenes: what acts on them, what stops them, and that they are the same however they are
// run.
#include "base/error.h"
#include "base/parallel.h"
#include "base/vector_unit.h"
#include "cache/frame_store.h"
#include "gas/advect.h"
#include "render/gas_layer.h"
#include "scene/scene_file.h"
#include "simulation/gas/gas_edits.h"
#include "simulation/gas/gas_kind.h"
#include "simulation/influences/influences.h"
#include "simulation/loop.h"
#include "simulation/plan.h"
#include "simulation/step.h"
#include "support/files.h"
#include "support/scenes.h"

#include <numeric>
#include <thread>

namespace comet {
namespace {

using test::gasScene;
using test::roomyCache;
using test::simulate;
using test::with;
using test::withInfluence;

const PackedGas& gasOf(const SceneFramePtr& frame) { return *frame->gases->gases.front().content; }

// A gas of 16³ voxels, 4 units along each side about (0, 2, 0), that does nothing by itself.
Scene stillBox(std::initializer_list<std::string> assignments = {}) {
  return with(with(gasScene(), {"gas.position=0,2,0", "gas.size=4,4,4", "gas.resolution=16", "gas.buoyancy=0",
                                "gas.vorticity=0", "gas.dissipation=0", "gas.cooling=0", "source.noise=0",
                                "source.temperature=0"}),
              assignments);
}

double total(const GasChannel& channel) { return std::accumulate(channel.begin(), channel.end(), 0.0); }

float hottestOf(const PackedGas& gas) {
  const GasChannel temperature = gas.temperature();
  return *std::max_element(temperature.begin(), temperature.end());
}

// The mean height of what is in the air.
double heightOf(const PackedGas& gas) {
  const GasChannel density = gas.density();
  const GridLayout cells = gas.grid().cells();
  double sum = 0;
  for (std::size_t i = 0; i < density.size(); ++i)
    sum += density[i] * (gas.grid().corner.y +
                         gas.grid().voxel * (static_cast<double>(i % cells.plane() / cells.row()) + 0.5));
  return sum / total(density);
}

TEST(GasScene, SmokeIsGivenOffAndRises) {
  SceneRun run(gasScene(), roomyCache());
  const double early = heightOf(gasOf(run.frame(6))), late = heightOf(gasOf(run.frame(24)));
  EXPECT_GT(total(gasOf(run.frame(24)).density()), 2 * total(gasOf(run.frame(6)).density()));
  EXPECT_GT(late, early + 0.3);
  const GasStats& stats = run.frame(24)->report->gases.front();
  EXPECT_EQ(stats.voxels, gasOf(run.frame(24)).grid().cells().size());
  EXPECT_GT(stats.filled, 0U);
  EXPECT_LT(stats.filled, stats.voxels);
  EXPECT_GT(stats.rounds, 0);
  EXPECT_EQ(stats.missedBy, 0);
  EXPECT_GT(run.frame(24)->report->stats.millisecondsOf(StepStage::Gases), 0);
}

TEST(GasScene, WindTakesTheAirAlongByItsDrag) {
  const Scene scene =
      withInfluence(stillBox({"source.density=0"}), "wind",
                    {"wind.direction=1,0,0", "wind.speed=2", "wind.air_drag=3", "wind.gusts=0"});
  const SceneFramePtr frame = simulate(scene, 13);
  const GasVelocity velocity = gasOf(frame).velocity();
  // Through an open box the air moves as one: dv/dt = k (w - v).
  const double expected = 2 * (1 - std::exp(-3 * test::secondsAt(13)));
  for (const Vec3d& place : {Vec3d(0, 2, 0), Vec3d(-1.5, 0.5, 1), Vec3d(1, 3.5, -1)}) {
    const Vec3d found = velocityAt(gasOf(frame).grid(), velocity, place);
    EXPECT_NEAR(found.x, expected, 0.01);
    EXPECT_NEAR(found.y, 0, 0.01);
  }
}

TEST(GasScene, AgesAreThoseOfTheWayThatTheGasHasCome) {
  // A sheet of gas that is held across a wind of 2 units a second.
  const Scene scene = withInfluence(
      stillBox({"gas.resolution=40", "gas.color_by=age", "source.shape=box", "source.extent=0.2,9,9",
                "source.position=-1.5,2,0", "source.thickness=0", "source.amount=held", "source.density=1"}),
      "wind", {"wind.direction=1,0,0", "wind.speed=2", "wind.air_drag=200", "wind.gusts=0"});
  SceneRun run(scene, roomyCache());
  const GasState state = gasOf(run.frame(50)).unpacked();
  const auto ageAt = [&](double x) {
    const GasGrid grid = gasGridOf(*scene.findByName("gas"));
    return valueAt(grid, state.age, {x, 2, 0}) / valueAt(grid, state.density, {x, 2, 0});
  };
  EXPECT_NEAR(ageAt(1.5) - ageAt(-0.5), 2 / 2.0, 0.03);
  EXPECT_NEAR(ageAt(-0.5), 0.9 / 2, 0.06) << "it leaves the source at -1.4";
  EXPECT_FALSE(
      gasOf(SceneRun(with(scene, {"gas.color_by=density"}), roomyCache()).frame(3)).unpacked().hasAge());
}

TEST(GasScene, ResponsesAndTheirReachCount) {
  const auto speedAt = [](const Scene& scene, const Vec3d& place) {
    const SceneFramePtr frame = simulate(scene, 8);
    return velocityAt(gasOf(frame).grid(), gasOf(frame).velocity(), place).x;
  };
  const Scene windy = withInfluence(stillBox({"source.density=0"}), "wind",
                                    {"wind.speed=2", "wind.air_drag=3", "wind.gusts=0"});
  const auto respond = [&](std::optional<double> percent) {
    return windy.withResponse(windy.findByName("gas")->id, windy.findByName("wind")->id, {percent});
  };
  EXPECT_EQ(speedAt(respond(std::nullopt), {0, 2, 0}), 0);
  const double half = speedAt(respond(50), {0, 2, 0}), whole = speedAt(windy, {0, 2, 0});
  EXPECT_GT(half, 0.1);
  EXPECT_LT(half, 0.7 * whole);
  const Scene local =
      with(windy, {"wind.reach=sphere", "wind.reach_radius=0.8", "wind.reach_position=0,2,0"});
  EXPECT_GT(speedAt(local, {0, 2, 0}), 3 * std::abs(speedAt(local, {0, 3.6, 1.6})));
}

// Forces push what is in the air, and so smoke falls through clear air; where it is everywhere, pressure
// holds against them.
TEST(GasScene, GravityPullsSmokeAndNotTheAir) {
  const Scene falling =
      withInfluence(stillBox({"source.shape=sphere", "source.radius=0.6", "source.position=0,3,0",
                              "source.emits=frame_range", "source.emits_until=4", "gas.side_walls=closed",
                              "gas.floor=closed", "gas.ceiling=closed", "gas.front_back_walls=closed"}),
                    "gravity");
  SceneRun run(falling, roomyCache());
  EXPECT_LT(heightOf(gasOf(run.frame(20))), heightOf(gasOf(run.frame(6))) - 0.3);
  const SceneFramePtr empty = simulate(with(falling, {"source.density=0"}), 12);
  for (const GasChannel& across : gasOf(empty).velocity())
    for (const float each : across) EXPECT_EQ(each, 0);
}

TEST(GasScene, ClosedBoxesKeepTheirGas) {
  const Scene scene =
      stillBox({"gas.resolution=20", "gas.buoyancy=12", "gas.vorticity=1", "gas.turbulence=2",
                "source.shape=sphere", "source.radius=0.6", "source.position=0,1,0", "source.temperature=400",
                "source.emits=frame_range", "source.emits_until=12", "gas.side_walls=closed",
                "gas.floor=closed", "gas.ceiling=closed", "gas.front_back_walls=closed"});
  SceneRun run(scene, roomyCache());
  const double given = total(gasOf(run.frame(13)).density());
  EXPECT_GT(given, 0);
  EXPECT_GT(heightOf(gasOf(run.frame(60))), heightOf(gasOf(run.frame(13))) + 0.5) << "it moves";
  EXPECT_NEAR(total(gasOf(run.frame(213)).density()), given, 0.01 * given);
}

// Where warm air is on average, and how far from the axis of the box, root mean square.
struct Thermal {
  double height = 0, radius = 0;
};

Thermal thermalOf(const PackedGas& gas) {
  const GasChannel warm = gas.temperature();
  double sum = 0, height = 0, squares = 0;
  for (std::size_t i = 0; i < warm.size(); ++i) {
    const Vec3d at = gas.grid().middleOf(i);
    sum += warm[i];
    height += warm[i] * at.y;
    squares += warm[i] * (at.x * at.x + at.z * at.z);
  }
  return {height / sum, std::sqrt(squares / sum)};
}

// The slope of a line through points, and how well they lie on it (the coefficient of correlation).
struct Line {
  double slope = 0, correlation = 0;
};

Line lineThrough(const std::vector<double>& x, const std::vector<double>& y) {
  const auto count = static_cast<double>(x.size());
  const double meanX = std::accumulate(x.begin(), x.end(), 0.0) / count;
  const double meanY = std::accumulate(y.begin(), y.end(), 0.0) / count;
  double xx = 0, xy = 0, yy = 0;
  for (std::size_t i = 0; i < x.size(); ++i) {
    xx += (x[i] - meanX) * (x[i] - meanX);
    xy += (x[i] - meanX) * (y[i] - meanY);
    yy += (y[i] - meanY) * (y[i] - meanY);
  }
  return {xy / xx, xy / std::sqrt(xx * yy)};
}

// Warm air that is set free at once takes in air from around: it becomes wider in proportion to its height,
// and both grow with the square root of time (Morton, Taylor and Turner 1956).
TEST(GasScene, ThermalsSpreadAndRiseByTheKnownPower) {
  const Scene scene =
      stillBox({"gas.position=0,4,0", "gas.size=5,8,5", "gas.resolution=64", "gas.buoyancy=12",
                "source.shape=sphere", "source.radius=0.45", "source.position=0,1,0",
                "source.temperature=6000", "source.emits=frame_range", "source.emits_until=2"});
  SceneRun run(scene, roomyCache());
  std::vector<double> heights, radii, times, widths;
  for (int frame = 12; frame <= 44; frame += 2) {
    const Thermal thermal = thermalOf(gasOf(run.frame(frame)));
    heights.push_back(thermal.height);
    radii.push_back(thermal.radius);
    widths.push_back(std::log(thermal.radius));
    times.push_back(std::log((frame - 1.5) / test::kFrameRate));
  }
  EXPECT_GT(heights.back(), heights.front() + 2);
  EXPECT_GT(lineThrough(heights, radii).correlation, 0.98);
  EXPECT_NEAR(lineThrough(times, widths).slope, 0.5, 0.05);
}

TEST(GasScene, KeepsToTheBudgetBesideManyParticles) {
  const Scene scene =
      with(gasScene(), {"gas.resolution=32", "gas.color_by=age", "emitter.rate=0",
                        "emitter.bursts=[{\"frame\":2,\"count\":100000}]", "emitter.lifetime=9"});
  const auto cache = std::make_shared<FrameCache>(std::size_t{24} << 20);
  SceneRun run(scene, cache);
  for (int frame = 3; frame <= 24; ++frame) {
    const SceneFramePtr made = run.frame(frame);
    EXPECT_LE(cache->bytes(), cache->budget()) << frame;
    EXPECT_EQ(made->report->stats.living, 100000U);
    EXPECT_LE(gasOf(made).bytes(),
              gasFrameMemory(gasOf(made).grid(), {.age = true}) * 21 / 20 + sizeof(PackedGas));
  }
}

// What comes in through open walls brings no energy along: a breath there must not grow into a storm.
TEST(GasScene, OpenBoxesStayCalmForLong) {
  const Scene scene =
      stillBox({"gas.position=0,4,0", "gas.size=5,8,5", "gas.resolution=32", "gas.buoyancy=12",
                "gas.turbulence=4", "gas.vorticity=2", "source.shape=sphere", "source.radius=0.15",
                "source.position=0,0.4,0", "source.noise=100", "source.temperature=3000"});
  SceneRun run(scene, roomyCache());
  const double early = largestSpeed(gasOf(run.frame(60)).velocity());
  EXPECT_GT(early, 1);
  EXPECT_LT(largestSpeed(gasOf(run.frame(240)).velocity()), 4 * early);
}

TEST(GasScene, GasCarriesParticles) {
  // Air at 2 units a second, and particles that hold on to it.
  Scene scene = withInfluence(stillBox({"source.density=0"}), "wind",
                              {"wind.direction=1,0,0", "wind.speed=2", "wind.air_drag=50", "wind.gusts=0"});
  scene = with(scene, {"emitter.bursts=[{\"frame\":20,\"count\":1}]", "emitter.shape=point",
                       "emitter.position=-1.5,2,0", "emitter.speed=0", "emitter.lifetime=100"});
  scene = scene.withResponse(scene.findByName("emitter")->id, scene.findByName("wind")->id, {});
  scene = withInfluence(scene, "gas_flow", {"gas_flow.gas=gas", "gas_flow.air_drag=5"});
  const auto velocityAfter = [](const Scene& of, int frame) {
    return test::velocityOf(test::onlyGroup(simulate(of, frame)), 0);
  };
  const double seconds = 10 / test::kFrameRate;
  EXPECT_NEAR(velocityAfter(scene, 30).x, 2 * (1 - std::exp(-5 * seconds)), 0.02);
  EXPECT_NEAR(velocityAfter(with(scene, {"gas_flow.carried=50"}), 30).x, 1 - std::exp(-5 * seconds), 0.02);
  EXPECT_NEAR(velocityAfter(with(scene, {"gas_flow.acts_as=force", "gas_flow.strength=3"}), 30).x,
              6 * seconds, 0.05);
  // Outside of the box only if it is asked for.
  const Scene outside = with(scene, {"emitter.position=5,2,0"});
  EXPECT_EQ(velocityAfter(outside, 30).x, 0);
  EXPECT_GT(velocityAfter(with(outside, {"gas_flow.outside=edge"}), 30).x, 1);
  test::expectTheSameHoweverRun(scene, 26);
}

TEST(GasScene, WhatIsForParticlesAloneDoesNothing) {
  const Scene scene = stillBox();
  const Digest plain = simulate(scene, 4)->gases->digest();
  for (const char* kind : {"kicks", "spin", "flock", "speed_limit", "enclosure", "gas_flow"}) {
    const Scene more = withInfluence(scene, kind);
    EXPECT_FALSE(canActOn(*more.findByName("gas"), *more.items().back()->kind)) << kind;
    EXPECT_TRUE(canActOn(*more.findByName("emitter"), *more.items().back()->kind)) << kind;
    EXPECT_EQ(simulate(more, 4)->gases->digest(), plain) << kind;
  }
  for (const char* kind : {"gravity", "force", "attractor", "bend", "wind", "drag", "vortex", "turbulence",
                           "field", "path", "deflector"}) {
    const Scene more = withInfluence(scene, kind);
    EXPECT_TRUE(canActOn(*more.findByName("gas"), *more.items().back()->kind)) << kind;
    EXPECT_NE(planFrame(more, 4).digest, planFrame(scene, 4).digest) << kind;
  }
}

TEST(GasScene, FlowsAroundDeflectors) {
  const Scene scene =
      withInfluence(with(gasScene(), {"gas.resolution=32"}), "deflector",
                    {"deflector.shape=sphere", "deflector.radius=0.8", "deflector.position=0,2,0"});
  const SceneFramePtr frame = simulate(scene, 30);
  const GasGrid& grid = gasOf(frame).grid();
  EXPECT_LT(valueAt(grid, gasOf(frame).density(), {0, 2, 0}), 0.01) << "nothing gets in";
  EXPECT_GT(total(gasOf(frame).density()), 1);
  const Vec3d velocity = velocityAt(grid, gasOf(frame).velocity(), {0, 2, 0});
  EXPECT_NEAR(velocity.y, 0, 0.05);
  const Scene without =
      scene.withResponse(scene.findByName("gas")->id, scene.findByName("deflector")->id, {});
  EXPECT_GT(valueAt(grid, gasOf(simulate(without, 30)).density(), {0, 2, 0}), 0.02)
      << "without a response it goes through";
}

TEST(GasScene, MovingDeflectorsPushGasAlong) {
  const Scene scene = withInfluence(
      stillBox({"source.density=0"}), "deflector",
      {"deflector.shape=box", "deflector.size=1,6,6",
       R"(deflector.position={"keys":[{"frame":1,"value":[-1.5,2,0],"to_next":"linear"},{"frame":25,"value":[0.5,2,0]}]})"});
  const SceneFramePtr frame = simulate(scene, 6);
  // A piston in a box that is open at both ends: what it sweeps goes ahead of it as fast as it goes.
  const Scene tube = with(scene, {"gas.floor=closed", "gas.ceiling=closed", "gas.front_back_walls=closed"});
  const SceneFramePtr pushed = simulate(tube, 6);
  EXPECT_NEAR(velocityAt(gasOf(pushed).grid(), gasOf(pushed).velocity(), {1, 2, 0}).x, 2, 0.1);
  EXPECT_GT(velocityAt(gasOf(frame).grid(), gasOf(frame).velocity(), {0, 2, 0}).x, 0.3);
}

TEST(GasScene, ThinDeflectorsStopGas) {
  const Scene scene =
      withInfluence(with(gasScene(), {"gas.resolution=32"}), "deflector",
                    {"deflector.shape=rectangle", "deflector.size=8,1,8", "deflector.position=0,2.5,0"});
  const SceneFramePtr frame = simulate(scene, 30);
  const GasChannel density = gasOf(frame).density();
  const GridLayout cells = gasOf(frame).grid().cells();
  double above = 0, below = 0;
  for (std::size_t i = 0; i < density.size(); ++i) {
    const double y = gasOf(frame).grid().corner.y +
                     gasOf(frame).grid().voxel * (static_cast<double>(i % cells.plane() / cells.row()) + 0.5);
    (y > 2.8 ? above : below) += density[i];
  }
  EXPECT_GT(below, 1);
  EXPECT_LT(above, 0.01 * below);
}

TEST(GasScene, TimeScaleChangesItsPaceAlone) {
  EXPECT_EQ(total(gasOf(simulate(with(gasScene(), {"gas.time_scale=0"}), 12)).density()), 0);
  const double slow = total(gasOf(simulate(with(stillBox(), {"gas.time_scale=50"}), 13)).density());
  const double plain = total(gasOf(simulate(stillBox(), 7)).density());
  EXPECT_NEAR(slow / plain, 1, 0.02) << "half as fast for twice as long";
  // What comes from the scene keeps its own speed.
  const Scene windy =
      withInfluence(stillBox({"source.density=0", "gas.time_scale=40"}), "wind",
                    {"wind.direction=1,0,0", "wind.speed=2", "wind.air_drag=3", "wind.gusts=0"});
  const SceneFramePtr frame = simulate(windy, 13);
  const PackedGas& gas = gasOf(frame);
  EXPECT_NEAR(velocityAt(gas.grid(), gas.velocity(), {0, 2, 0}).x,
              2 * (1 - std::exp(-3 * test::secondsAt(13))), 0.01);
}

TEST(GasScene, IsTheSameHoweverItIsRun) {
  const Scene scene = withInfluence(withInfluence(gasScene(), "turbulence"), "deflector",
                                    {"deflector.shape=sphere", "deflector.position=0,2,0"});
  const Digest straight = simulate(scene, 10)->gases->digest();
  {
    const ThreadLimit one(1);
    useBaselineVectorUnit();
    EXPECT_EQ(simulate(scene, 10)->gases->digest(), straight) << "one thread, baseline unit";
    useBestVectorUnit();
  }
  const test::TemporaryFolder folder;
  const auto store = std::make_shared<const FrameStore>(folder.path());
  SceneRun first(scene, roomyCache(store));
  (void)first.frame(6);
  EXPECT_EQ(first.keepOnDisk(), "");
  SceneRun second(scene, roomyCache(store));
  EXPECT_EQ(second.frame(6)->gases->digest(), first.frame(6)->gases->digest()) << "read from disk";
  EXPECT_EQ(second.frame(10)->gases->digest(), straight) << "and gone on from there";
}

TEST(GasScene, LaterEditsLeaveEarlierFramesAlone) {
  const Scene scene = gasScene();
  const Scene edited = with(
      scene,
      {R"(gas.buoyancy={"keys":[{"frame":1,"value":12},{"frame":20,"value":12},{"frame":30,"value":3}]})"});
  SceneRun before(scene, roomyCache()), after(edited, roomyCache());
  EXPECT_EQ(before.key(20), after.key(20));
  EXPECT_NE(before.key(24), after.key(24));
  SceneRun looks(with(scene, {"gas.opacity=1", "gas.color_by=temperature"}), roomyCache());
  EXPECT_EQ(before.key(24), looks.key(24)) << "looks simulate nothing";
}

TEST(GasScene, FilesKeepGasesAndTheirResponses) {
  Scene scene = withInfluence(gasScene(), "wind");
  scene = scene.withResponse(scene.findByName("gas")->id, scene.findByName("wind")->id, {40});
  const Scene read = sceneFromText(textFromScene(scene), catalog());
  EXPECT_EQ(read, scene);
  EXPECT_EQ(read.findByName("source")->reference("gas"), read.findByName("gas")->id);
}

TEST(GasScene, SourcesOfFlatGasHaveToReachItsPlane) {
  const Scene scene = with(gasScene(), {"gas.dimensions=2d", "gas.position=0,2,0", "gas.size=4,4,2",
                                        "source.shape=sphere", "source.radius=0.3", "source.position=0,2,0"});
  const auto problem = [](const Scene& with) {
    return problemWithSource(with, *with.findByName("source"), 1);
  };
  EXPECT_EQ(problem(scene), "");
  EXPECT_NE(problem(with(scene, {"source.position=0,2,0.9"})).find("along z"), std::string::npos);
  EXPECT_NE(problem(with(scene, {"source.position=9,2,0"})).find("outside"), std::string::npos);
}

TEST(GasScene, FlatGasIsOneVoxelDeepAndLooksAsDeepAsItsBox) {
  const Scene scene = with(
      gasScene(), {"gas.dimensions=2d", "gas.position=0,1.5,0", "gas.size=4,3,0.5", "gas.resolution=64"});
  const SceneFramePtr frame = simulate(scene, 8);
  const PackedGas& gas = gasOf(frame);
  EXPECT_EQ(gas.grid().counts, (std::array<std::size_t, 3>{64, 48, 1}));
  EXPECT_GT(gas.filled(), 0U);
  const GasVelocity velocity = gas.velocity();
  for (const float speed : velocity[2]) ASSERT_EQ(speed, 0);
  for (const char* resolution : {"gas.resolution=64", "gas.resolution=128"}) {
    const Scene::ItemPtr item = with(scene, {resolution, "gas.opacity=6"}).findByName("gas");
    const GasGrid grid = gasGridOf(*item);
    const GasLook look = gasLookOf(*item, 1, grid);
    EXPECT_NEAR(static_cast<double>(look.extinction.at(1)) * grid.voxel, 6 * 0.5, 1e-5);
    EXPECT_NEAR(static_cast<double>(look.shadow * look.extinction.at(1)), 6, 1e-4) << "in its plane";
  }
}

TEST(GasScene, ColorsOfSourcesMix) {
  Scene scene = with(stillBox(), {"source.gives_color=color", "source.source_color=1,0,0", "source.shape=box",
                                  "source.extent=1,1,1", "source.position=0,2,0"});
  const SceneFramePtr frame = simulate(scene, 4);
  const PackedGas& gas = gasOf(frame);
  const std::array<GasChannel, 3> color = gas.color();
  EXPECT_NEAR(total(color[0]), total(gas.density()), 0.01 * total(gas.density()));
  EXPECT_EQ(total(color[1]), 0);
  // One that gives none is white among others.
  scene = withNewSource(scene, *scene.findByName("gas"));
  const SceneFramePtr mixed = simulate(with(scene, {"source 2.noise=0"}), 4), plain = simulate(stillBox(), 4);
  EXPECT_GT(total(gasOf(mixed).color()[1]), 1);
  EXPECT_TRUE(gasOf(plain).color()[0].empty()) << "none is carried where none is given";
}

Scene fireScene() { return with(withNewFire(test::starting()), {"emitter.rate=0", "fire.resolution=24"}); }

double burntIn(const SceneFrame& frame) { return frame.report->gases.front().burntFuel; }

TEST(GasScene, FireBurnsTheFuelOfItsSourceAndSmokes) {
  SceneRun run(fireScene(), roomyCache());
  const SceneFramePtr frame = run.frame(16);
  const GasState state = gasOf(frame).unpacked();
  EXPECT_GT(burntIn(*frame), 0);
  EXPECT_GT(hottestOf(gasOf(frame)), 800) << "the source holds 600 K; the rest is heat of burning";
  EXPECT_GT(total(state.density), 0) << "smoke that only burning can have given";
  SceneRun cold(with(fireScene(), {"source.temperature=0"}), roomyCache());
  EXPECT_EQ(burntIn(*cold.frame(16)), 0);
  EXPECT_EQ(total(gasOf(cold.frame(16)).density()), 0);
}

TEST(GasScene, FireGoesOutWithItsSource) {
  SceneRun run(with(fireScene(), {"source.emits=frame_range", "source.emits_until=12"}), roomyCache());
  EXPECT_GT(burntIn(*run.frame(12)), 0);
  const float hot = hottestOf(gasOf(run.frame(12)));
  EXPECT_LT(hottestOf(gasOf(run.frame(60))), 0.3F * hot);
  EXPECT_LT(burntIn(*run.frame(60)), 0.02 * burntIn(*run.frame(12)));
}

TEST(GasScene, SaysWhyFuelDoesNotBurn) {
  const auto problem = [](const Scene& scene) {
    return problemWithSource(scene, *scene.findByName("source"), 1);
  };
  EXPECT_EQ(problem(fireScene()), "");
  EXPECT_NE(problem(with(fireScene(), {"fire.burning=off"})).find("turn on Burning"), std::string::npos);
  EXPECT_NE(problem(with(fireScene(), {"source.temperature=100"})).find("above the Ignition"),
            std::string::npos);
  EXPECT_EQ(problem(with(fireScene(), {"source.temperature=1", "source.amount=per_second"})), "")
      << "heat that adds up";
}

TEST(GasScene, PreviewIsCoarserAndKeepsTheBox) {
  const Scene scene = with(gasScene(), {"gas.resolution=60", "gas.preview_resolution=third"});
  const GasGrid fine = gasGridOf(*scene.findByName("gas"));
  const GasGrid coarse = gasGridOf(*atPreviewResolution(scene).findByName("gas"));
  EXPECT_NEAR(coarse.voxel, 3 * fine.voxel, 1e-9);
  for (int axis = 0; axis < 3; ++axis)
    EXPECT_NEAR(coarse.size()[axis], fine.size()[axis], 0.5 * coarse.voxel + 1e-9);
  EXPECT_EQ(coarse.middle(), fine.middle());
  EXPECT_EQ(atPreviewResolution(gasScene()), gasScene()) << "full is as it is";
}

TEST(GasScene, TooManyVoxelsAreRefusedBeforeTheyAreMade) {
  const Scene scene = with(gasScene(), {"gas.size=900,900,900", "gas.resolution=1024"});
  try {
    (void)simulate(with(scene, {"gas.resolution=1024"}), 1);
    FAIL();
  } catch (const Error& error) {
    EXPECT_EQ(error.kind(), ErrorKind::Budget);
    EXPECT_NE(std::string(error.what()).find("1024 × 1024 × 1024"), std::string::npos) << error.what();
    EXPECT_NE(std::string(error.what()).find("resolution to"), std::string::npos) << error.what();
  }
  const Item& gas = *scene.findByName("gas");
  Item fitting = gas;
  fitting.values[gas.kind->indexOf("resolution")].base =
      static_cast<double>(largestResolution(gas, {}, std::size_t{1} << 30));
  EXPECT_LE(gasMemory(gasGridOf(fitting)), std::size_t{1} << 30);
}

TEST(GasScene, SaysWhereGasIsCutOff) {
  const Scene scene = with(
      gasScene(), {"gas.size=3,2,3", "gas.position=0,1,0", "gas.resolution=24", "source.position=0,0.5,0"});
  SceneRun run(scene, roomyCache());
  EXPECT_EQ(run.frame(2)->report->gases.front().wallsMet, 0);
  EXPECT_EQ(run.frame(40)->report->gases.front().wallsMet & GasGrid::wallBit(1, 1), GasGrid::wallBit(1, 1));
  const Item& gas = *scene.findByName("gas");
  const Scene larger = withEnlargedGas(scene, gas, GasGrid::wallBit(1, 1) | GasGrid::wallBit(0, 0));
  const GasGrid before = gasGridOf(gas), after = gasGridOf(*larger.findByName("gas"));
  EXPECT_NEAR(after.voxel, before.voxel, 0.02 * before.voxel);
  EXPECT_NEAR(after.corner.y, before.corner.y, before.voxel) << "the floor stays";
  EXPECT_NEAR((after.corner + after.size()).y, (before.corner + before.size()).y + 0.5, before.voxel);
  EXPECT_NEAR(after.corner.x, before.corner.x - 0.75, before.voxel);
}

TEST(GasScene, GasesComeAndGoWithTheirSources) {
  const Scene scene = gasScene();
  const Scene twice = withDuplicatedGas(scene, *scene.findByName("gas"));
  const auto gases = twice.itemsOf(ItemFamily::Gas);
  ASSERT_EQ(gases.size(), 2U);
  EXPECT_EQ(sourcesOfGas(twice, gases[0]->id).size(), 1U);
  ASSERT_EQ(sourcesOfGas(twice, gases[1]->id).size(), 1U);
  EXPECT_EQ(sourcesOfGas(withNewSource(twice, *gases[1]), gases[1]->id).size(), 2U);
  const Scene again = withoutGas(twice, gases[1]->id);
  EXPECT_EQ(again.itemsOf(ItemFamily::Source).size(), 1U);
  EXPECT_EQ(simulate(twice, 3)->gases->gases.size(), 2U);
  EXPECT_EQ(simulate(scene.withEnabled(scene.findByName("gas")->id, false), 3)->gases->gases.size(), 0U);
}

TEST(GasScene, NewGasesRespondToTheAirAndNotToForces) {
  const Scene scene = withNewGas(withInfluence(withInfluence(test::starting(), "gravity"), "wind"));
  const ItemId gas = scene.itemsOf(ItemFamily::Gas).front()->id;
  EXPECT_FALSE(scene.response(gas, scene.findByName("gravity")->id).acts());
  EXPECT_TRUE(scene.response(gas, scene.findByName("wind")->id).acts());
}

TEST(GasScene, LoopsSayThatGasDoesNotRepeat) {
  const Scene scene = with(gasScene(), {"scene.exact_loop=true"});
  const auto problems = loopProblems(scene);
  EXPECT_TRUE(std::any_of(problems.begin(), problems.end(), [](const std::string& problem) {
    return problem.find("\"gas\"") != std::string::npos && problem.find("cross-fade") != std::string::npos;
  }));
}

TEST(GasScene, StopsWithinAFrameWhenItIsCancelled) {
  const Scene scene = with(gasScene(), {"gas.resolution=96"});
  SceneRun run(scene, roomyCache());
  (void)run.frame(1);
  Progress progress;
  std::thread soon([&progress] { progress.cancel(); });
  EXPECT_THROW((void)run.frame(200, progress), Error);
  soon.join();
}

}  // namespace
}  // namespace comet
