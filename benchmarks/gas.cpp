// Gas in a box of 128³ voxels with an obstacle: its pressure, what it carries, and how it is seen, each
// against going through the same numbers once.
#include "base/parallel.h"
#include "gas/advect.h"
#include "gas/gas_march.h"
#include "gas/gas_step.h"
#include "gas/light_sweep.h"
#include "ratio.h"

#include <benchmark/benchmark.h>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet::benchmarks {
namespace {

constexpr std::size_t kVoxels = 128;
constexpr int kRounds = 20;

// A plume under a ball, as it is after some steps from a source at its bottom.
struct Plume {
  GasGrid grid{{kVoxels, kVoxels, kVoxels}, 4.0 / kVoxels, Vec3d(0.0), {}};
  GasSolids solids;
  GasState state;

  Plume() {
    for (auto& walls : grid.open) walls = {true, true};
    grid.open[1][0] = false;
    solids = solidsOf(
        grid, [](const Vec3d& at) { return glm::length(at - Vec3d(2, 2.6, 2)) - 0.5; },
        [](const Vec3d&) { return Vec3d(0.0); });
    state = emptyGas(grid);
    PressureSolver solver(grid, solids);
    GasMotion motion;
    motion.buoyancy = 6;
    for (int i = 0; i < 8; ++i) {
      const GridLayout cells = grid.cells();
      for (std::size_t z = 0; z < kVoxels; ++z)
        for (std::size_t y = 0; y < kVoxels; ++y)
          for (std::size_t x = 0; x < kVoxels; ++x)
            if (glm::length(grid.voxel * (Vec3d(x, y, z) + 0.5) - Vec3d(2, 0.9, 2)) < 0.7)
              state.density[cells.index(x, y, z)] = state.temperature[cells.index(x, y, z)] = 1;
      stepGas(grid, solver, motion, 1.0 / 24, {}, {}, state, Progress());
    }
  }
};

const Plume& plume() {
  static const Plume made;
  return made;
}

void gasPressure(benchmark::State& state) {
  const Plume& gas = plume();
  PressureSolver solver(gas.grid, gas.solids);
  GasVelocity pushed = gas.state.velocity;
  for (float& up : pushed[1]) up += 0.1F;
  PressureLevel level = emptyLevel(gas.grid.counts, {1, 1, 1});
  std::fill(level.cells.begin(), level.cells.end(), PressureCell::Gas);
  for (auto& open : level.open) std::fill(open.begin(), open.end(), 1.0F);
  completeLevel(level);
  LevelNumbers pressure(level.layout.size(), 1.0F), result(pressure.size());
  for (auto _ : state)
    report(state,
           bestRatio(
               [&] {
                 GasVelocity velocity = pushed;
                 solver.project(velocity, {}, 1e-4, 60, Progress());
               },
               [&] { applyStencil(level, pressure, result); }, kRounds),
           120);
}
BENCHMARK(gasPressure)->Iterations(1)->Unit(benchmark::kMillisecond);

// Reads and writes all numbers of a state.
void streamOnce(const GasState& from, GasState& to) {
  const auto stream = [](const GasChannel& a, GasChannel& b) {
    runRanges(a.size(), Shares::Equal, [&](std::size_t begin, std::size_t end) {
      for (std::size_t i = begin; i < end; ++i) b[i] = a[i] * 1.0001F;
    });
  };
  for (std::size_t axis = 0; axis < 3; ++axis) stream(from.velocity[axis], to.velocity[axis]);
  stream(from.density, to.density);
  stream(from.temperature, to.temperature);
}

void gasCarried(benchmark::State& state) {
  const Plume& gas = plume();
  GasState carried = gas.state, streamed = gas.state;
  for (auto _ : state)
    report(state,
           bestRatio([&] { advect(gas.grid, gas.state.velocity, 1.0 / 48, carried); },
                     [&] { streamOnce(gas.state, streamed); }, kRounds),
           25);
}
BENCHMARK(gasCarried)->Iterations(1)->Unit(benchmark::kMillisecond);

GasLook plumeLook() {
  GasLook look;
  look.extinction = LookTable<float>(2.0F, [](float density) { return 6 * density; });
  return look;
}

// The light of a place, within the gas, against one from far away.
void gasPointLight(benchmark::State& state) {
  const Plume& gas = plume();
  const GasLook look = plumeLook();
  const Light far{glm::normalize(Vec3d(0.5, 1, 0.3)), Vec3(1.0F)};
  Light near;
  near.point = {gas.grid.middle(), Falloff::InverseSquare, 1, 1};
  const auto sweep = [&](const Light& light) {
    benchmark::DoNotOptimize(lightThrough(gas.grid, gas.state.density, look, light).data());
  };
  for (auto _ : state) report(state, bestRatio([&] { sweep(near); }, [&] { sweep(far); }, kRounds), 3);
}
BENCHMARK(gasPointLight)->Iterations(1)->Unit(benchmark::kMillisecond);

void gasSeen(benchmark::State& state) {
  const Plume& gas = plume();
  const GasLook look = plumeLook();
  const std::vector<Light> lights{{glm::normalize(Vec3d(0.5, 1, 0.3)), Vec3(1.0F)}};
  const GasMarch march(gas.grid, gas.state, look, lights);
  constexpr std::size_t kPixels = 256;
  std::vector<float> picture(kPixels * kPixels);
  const GridLayout cells = gas.grid.cells();
  for (auto _ : state)
    report(state,
           bestRatio(
               [&] {
                 parallelFor(kPixels, [&](std::size_t y) {
                   for (std::size_t x = 0; x < kPixels; ++x) {
                     const Vec3d from(4 * (static_cast<double>(x) + 0.5) / kPixels,
                                      4 * (static_cast<double>(y) + 0.5) / kPixels, 9);
                     picture[y * kPixels + x] = march.along(from, Vec3d(0, 0, -1), 100).light.x;
                   }
                 });
               },
               [&] {
                 benchmark::DoNotOptimize(parallelSum(cells.counts[2], [&](std::size_t z) {
                   float sum = 0;
                   for (std::size_t i = z * cells.plane(); i < (z + 1) * cells.plane(); ++i)
                     sum += gas.state.density[i];
                   return sum;
                 }));
               },
               kRounds),
           30);
}
BENCHMARK(gasSeen)->Iterations(1)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace comet::benchmarks
