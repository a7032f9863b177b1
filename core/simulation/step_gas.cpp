#include "simulation/step_gas.h"

#include "base/memory.h"
#include "gas/resample.h"
#include "simulation/gas/gas_coverage.h"
#include "simulation/gas/gas_kind.h"
#include "simulation/gas/gas_obstacles.h"
#include "simulation/gas_forces.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace comet {
namespace {

// Gas thinner than this is not missed where it is cut off.
constexpr float kSeenDensity = 0.02F;

// That of the viewport and that of a bake: what is solid stays as it is from frame to frame unless it moves.
constexpr std::size_t kProblemsKept = 2;

GasState stateBefore(const GasPlan& plan, const PackedGas* before) {
  GasState state = emptyGas(plan.grid, plan.extras);
  if (!before) return state;
  GasState kept = before->unpacked();
  if (before->grid() != plan.grid) kept = resampled(before->grid(), kept, plan.grid);
  if (kept.hasColor() != plan.extras.color) kept.color = std::move(state.color);
  if (kept.hasAge() != plan.extras.age) kept.age = std::move(state.age);
  if (kept.hasFuel() != plan.extras.fuel) kept.fuel = std::move(state.fuel);
  return kept;
}

std::vector<const Deflector*> deflectorsOf(const GasPlan& plan) {
  std::vector<const Deflector*> deflectors;
  for (const ActingInfluence& acting : plan.influences)
    if (const Deflector* deflector = acting.action().deflector()) deflectors.push_back(deflector);
  return deflectors;
}

// The open walls that seen gas has come to.
unsigned wallsMetBy(const GasGrid& grid, const GasChannel& density) {
  const GridLayout cells = grid.cells();
  unsigned walls = 0;
  for (std::size_t axis = 0; axis < 3; ++axis)
    for (std::size_t side = 0; side < 2; ++side) {
      if (!grid.open[axis][side]) continue;
      const std::size_t one = (axis + 1) % 3, other = (axis + 2) % 3;
      std::array<std::size_t, 3> at{};
      at[axis] = side == 0 ? 0 : cells.counts[axis] - 1;
      for (at[one] = 0; at[one] < cells.counts[one]; ++at[one])
        for (at[other] = 0; at[other] < cells.counts[other]; ++at[other])
          if (density[cells.index(at[0], at[1], at[2])] > kSeenDensity) walls |= GasGrid::wallBit(axis, side);
    }
  return walls;
}

void requireMemoryFor(const GasGrid& grid, const GasExtras& extras) {
  const std::size_t needed = gasMemory(grid, extras);
  const auto& counts = grid.counts;
  const double fits = std::cbrt(static_cast<double>(availableMemory()) / static_cast<double>(needed));
  const std::size_t longest = *std::max_element(counts.begin(), counts.end());
  requireMemory(needed, fmt::format("gas of {} × {} × {} voxels", counts[0], counts[1], counts[2]),
                fmt::format("Lower its resolution to {:.0f}",
                            std::max(4.0, std::floor(static_cast<double>(longest) * fits))));
}

class GasStepper {
 public:
  GasStepper(const GasPlan& plan, const FrameTime& time, int substeps, const PackedGas* before,
             const ParticleState& particles, const Progress& progress)
      : plan_(plan),
        time_(time),
        substeps_(time.length > 0 ? substeps : 1),
        progress_(progress),
        state_(stateBefore(plan, before)) {
    for (const SourcePlan& source : plan.sources) {
      coverages_.push_back(coverageOf(source, plan.grid, particles, progress));
      if (coverages_.back().isEmpty() && source.particlesOf == 0) ++stats_.missedBy;
    }
    stats_.gas = plan.gas;
    stats_.voxels = plan.grid.cells().size();
  }

  SteppedGas run() {
    const double length = time_.length / substeps_;
    for (int i = 0; i < substeps_ && length > 0; ++i)
      step({time_.start + i * length, length, static_cast<std::size_t>(i)});
    SteppedGas stepped{std::make_shared<const PackedGas>(plan_.grid, state_, plan_.timeScale), stats_};
    stepped.stats.filled = stepped.content->filled();
    stepped.stats.wallsMet = static_cast<std::uint16_t>(wallsMetBy(plan_.grid, state_.density));
    return stepped;
  }

 private:
  void step(const Substep& substep) {
    const double seconds = substep.length * plan_.timeScale;
    if (seconds <= 0) return;
    GasChannel expansion(plan_.grid.cells().size());
    for (std::size_t i = 0; i < plan_.sources.size(); ++i)
      giveGas(plan_.sources[i], coverages_[i], plan_.grid, seconds, plan_.timeScale, state_, expansion);
    const std::vector<const Deflector*> deflectors = deflectorsOf(plan_);
    const bool moves = std::any_of(deflectors.begin(), deflectors.end(),
                                   [](const Deflector* each) { return each->motion().moves(); });
    const auto problem = [&] {
      return pressureProblem(plan_.grid, solidsOf(plan_.grid, deflectors, substep.middle(), plan_.timeScale),
                             progress_);
    };
    if (moves)
      solver_ = std::make_unique<PressureSolver>(problem());
    else if (!solver_)
      solver_ = std::make_unique<PressureSolver>(
          plan_.kept->get<PressureProblem>(keyOfSolids(), problem, kProblemsKept));
    const GasForces forces(plan_, substep);
    const GasPush push = [&](GasVelocity& velocity, double part) {
      forces.push(state_.density, part, velocity);
    };
    const GasStepReport report = stepGas(plan_.grid, *solver_, plan_.motion, seconds, expansion,
                                         forces.empty() ? GasPush() : push, state_, progress_);
    stats_.halves += report.halves;
    stats_.rounds += report.rounds;
    stats_.divergenceLeft = report.divergenceLeft;
    stats_.reset += report.resetVoxels;
    stats_.burntFuel += report.burntFuel;
  }

  // Of all that what is solid depends on, if it rests.
  Digest keyOfSolids() const {
    Hasher hasher;
    plan_.grid.describe(hasher);
    for (const ActingInfluence& acting : plan_.influences)
      if (acting.action().deflector()) acting.describe(hasher);
    return hasher.digest();
  }

  const GasPlan& plan_;
  const FrameTime& time_;
  int substeps_;
  const Progress& progress_;
  std::vector<SourceCoverage> coverages_;  // of each source
  std::unique_ptr<PressureSolver> solver_;
  GasState state_;
  GasStats stats_;
};

}  // namespace

SteppedGas stepGas(const GasPlan& plan, const FrameTime& time, int substeps, const PackedGas* before,
                   const ParticleState& particles, const Progress& progress) {
  requireMemoryFor(plan.grid, plan.extras);
  if (before && before->grid() != plan.grid) requireMemoryFor(before->grid(), plan.extras);
  return GasStepper(plan, time, substeps, before, particles, progress).run();
}

}  // namespace comet
