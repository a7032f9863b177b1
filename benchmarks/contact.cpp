// Grains that push each other apart: a pass of the solver against reading the same pairs once, and how the
// time of a frame grows with their number.
#include "base/random.h"
#include "cache/scene_run.h"
#include "catalog.h"
#include "ratio.h"
#include "scene/override.h"
#include "simulation/contacts/contact_solver.h"

#include <benchmark/benchmark.h>
#include <cmath>
#include <glm/geometric.hpp>
#include <string>

namespace comet::benchmarks {
namespace {

constexpr float kHalfSize = 0.05F;

// As densely as grains are poured, a little pressed together.
ContactBodies pressedGrains(std::size_t count) {
  ContactBodies bodies(count);
  const auto side = static_cast<std::size_t>(std::cbrt(static_cast<double>(count))) + 1;
  const RandomSource random(7);
  for (std::size_t i = 0; i < count; ++i) {
    const Vec3 cell(static_cast<float>(i % side), static_cast<float>(i / side % side),
                    static_cast<float>(i / side / side));
    const auto shift = [&](std::uint32_t draw) {
      return static_cast<float>(random.signedUnit(i, static_cast<Draw>(draw)));
    };
    bodies.places[i] = 1.95F * kHalfSize * cell + 0.1F * kHalfSize * Vec3(shift(0), shift(1), shift(2));
    bodies.starts[i] = bodies.places[i];
    bodies.halfSizes[i] = kHalfSize;
    bodies.inverseMasses[i] = 1;
  }
  return bodies;
}

void solverPass(benchmark::State& state) {
  constexpr std::size_t kGrains = 50000;
  constexpr double kStep = 1.0 / 240;
  const ContactBodies grains = pressedGrains(kGrains);
  const std::vector<float> firmness(kGrains, 1.0F);
  ContactRule rule;
  rule.friction = rule.staticFriction = 0.3;
  ContactSolver solver(rule);
  ContactBodies moved = grains;
  solver.solve(moved, firmness, kStep);  // lists the pairs
  ContactPairs pairs;
  pairs.list(grains.places, std::vector<float>(kGrains, kHalfSize), 0.3F * kHalfSize);
  std::vector<Vec3> places(kGrains), pulls(kGrains);
  for (std::size_t entry = 0; entry < kGrains; ++entry) places[entry] = grains.places[pairs.order()[entry]];
  // The same loads and stores for each pair, with the least that can be done in between.
  const auto readPairs = [&] {
    pairs.forSlabs([&](std::size_t slab) {
      const ContactPairs::Slab& own = pairs.slabs()[slab];
      for (std::uint32_t i = own.first; i < own.last; ++i)
        for (const std::uint32_t j : own.of(i)) {
          const Vec3 apart = places[i] - places[j];
          if (!(glm::dot(apart, apart) < 4 * kHalfSize * kHalfSize)) continue;
          pulls[i] += apart;
          pulls[j] -= apart;
        }
    });
    benchmark::DoNotOptimize(pulls.data());
  };
  double ratio = 0;
  for (auto _ : state) {
    double best = 1e9, limit = 1e9;
    for (int round = 0; round < 15; ++round) {
      moved = grains;
      best = std::min(best, secondsFor([&] { solver.solve(moved, firmness, kStep); }));
      limit = std::min(limit, secondsFor(readPairs));
    }
    ratio = best / limit;
    state.counters["ms"] = 1000 * best;
  }
  report(state, ratio, 3);
}
BENCHMARK(solverPass)->Iterations(1)->Unit(benchmark::kMillisecond);

// A frame of grains that are poured into a box. The time of each has to stay the same.
void frameOfGrains(benchmark::State& state) {
  const auto count = static_cast<double>(state.range(0));
  const std::string side = std::to_string(std::cbrt(count) * 0.1),
                    low = std::to_string(std::cbrt(count) * 0.055);
  Scene scene = startingScene();
  for (const char* kind : {"gravity", "deflector", "contact"})
    scene = scene.withAdded(newItem(*catalog().find(kind), kind));
  for (const std::string& setting :
       {std::string("emitter.rate=0"), std::string("emitter.lifetime_mode=endless"),
        std::string("emitter.shape=box"), "emitter.extent=" + side + "," + side + "," + side,
        "emitter.position=0," + low + ",0", std::string("emitter.speed=0"), std::string("emitter.size=0.1"),
        std::string("scene.max_particles=300000"),
        R"(emitter.bursts=[{"frame":1,"count":)" + std::to_string(state.range(0)) + "}]",
        std::string("deflector.bounce=0")})
    scene = withOverride(scene, setting);
  SceneRun run(scene, std::make_shared<FrameCache>(std::size_t{1} << 30));
  constexpr int kFirst = 24, kFrames = 4;
  (void)run.frame(kFirst);
  double seconds = 0;
  for (auto _ : state) seconds = secondsFor([&] { (void)run.frame(kFirst + kFrames); }) / kFrames;
  state.counters["ms_a_frame"] = 1000 * seconds;
  state.counters["us_a_grain"] = 1e6 * seconds / count;
}
BENCHMARK(frameOfGrains)
    ->Arg(1000)
    ->Arg(5000)
    ->Arg(20000)
    ->Arg(50000)
    ->Arg(200000)
    ->Iterations(1)
    ->Unit(benchmark::kSecond);

}  // namespace
}  // namespace comet::benchmarks
