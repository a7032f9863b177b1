#include "simulation/step_gas.h"

#include "base/memory.h"
#include "gas/advect.h"
#include "gas/gas_detail.h"
#include "gas/resample.h"
#include "gas/rows.h"
#include "simulation/gas/gas_coverage.h"
#include "simulation/gas/gas_kind.h"
#include "simulation/gas/gas_obstacles.h"
#include "simulation/gas_forces.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <optional>

namespace comet {
namespace {

// Gas thinner than this is not missed where it is cut off.
constexpr float kSeenDensity = 0.02F;

// That of the viewport and that of a bake: what is solid stays as it is from frame to frame unless it moves.
constexpr std::size_t kProblemsKept = 2;

// With those extras that it has from now on; new ones are empty.
GasState withExtras(GasState state, const GasExtras& extras, std::size_t voxels) {
  const auto setTo = [voxels](bool has, GasChannel& channel) {
    if (has == channel.empty()) channel = GasChannel(has ? voxels : 0);
  };
  for (GasChannel& color : state.color) setTo(extras.color, color);
  setTo(extras.age, state.age);
  setTo(extras.fuel, state.fuel);
  return state;
}

GasState stateBefore(const GasPlan& plan, const PackedGas* before) {
  if (!before) return emptyGas(plan.grid, plan.extras);
  GasState kept = before->unpacked();
  if (before->grid() != plan.grid) kept = resampled(before->grid(), kept, plan.grid);
  return withExtras(std::move(kept), plan.extras, plan.grid.cells().size());
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

// The velocity in the middle of a step.
GasVelocity between(GasVelocity before, const GasVelocity& after) {
  for (std::size_t axis = 0; axis < 3; ++axis)
    forBlocks(before[axis].size(), [&](std::size_t begin, std::size_t end) {
      for (std::size_t i = begin; i < end; ++i) before[axis][i] = 0.5F * (before[axis][i] + after[axis][i]);
    });
  return before;
}

// What is seen of a gas in finer voxels, carried along with it.
class DetailStepper {
 public:
  DetailStepper(const GasPlan& plan, const PackedGas* before, const GasState& gas,
                const ParticleState& particles, const Progress& progress)
      : plan_(plan), progress_(progress), grid_(finerGrid(plan.grid, plan.extras.detail)) {
    const PackedGas* kept = before ? before->detail().get() : nullptr;
    if (kept && kept->grid() == grid_) {
      state_ = withExtras(kept->unpacked(), plan.extras, grid_.cells().size());
    } else {
      GasState contents = gas;
      contents.velocity = {};
      state_ = resampled(plan.grid, contents, grid_);
    }
    for (SourcePlan source : plan.sources) {
      // As soft as in the gas's own voxels, so that it gives as much.
      source.softness = std::max(source.softness, plan.grid.voxel);
      coverages_.push_back(coverageOf(source, grid_, particles, progress));
    }
  }

  // Along with a step of the gas in which its velocity went from `before` to that of `gas`.
  void step(GasVelocity before, const GasState& gas, double seconds, int parts) {
    const GasVelocity fine =
        detailFlow(plan_.grid, between(std::move(before), gas.velocity), grid_, plan_.swirls);
    const double part = seconds / parts;
    for (int i = 0; i < parts; ++i) {
      progress_.stopIfCancelled();
      GasChannel swelling(grid_.cells().size());
      for (std::size_t s = 0; s < plan_.sources.size(); ++s)
        giveGas(plan_.sources[s], coverages_[s], grid_, part, plan_.timeScale, state_, swelling);
      advectContents(grid_, fine, part, state_, progress_);
      if (state_.hasFuel()) {
        burnFuel(plan_.motion.combustion, part, state_, swelling);
        radiateHeat(plan_.motion.combustion, part, state_.temperature);
      }
      fadeContents(plan_.motion, part, state_);
    }
    // Twice: what is mixed between voxels does not reach their means at once.
    for (int i = 0; i < 2; ++i) keepNear(plan_.grid, gas, grid_, state_);
  }

  std::shared_ptr<const PackedGas> packed() const {
    return std::make_shared<const PackedGas>(grid_, state_, plan_.timeScale);
  }

 private:
  const GasPlan& plan_;
  const Progress& progress_;
  GasGrid grid_;
  GasState state_;  // without a velocity
  std::vector<SourceCoverage> coverages_;
};

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
    if (plan.extras.detail > 1) detail_.emplace(plan, before, state_, particles, progress);
    stats_.gas = plan.gas;
    stats_.voxels = plan.grid.cells().size();
  }

  SteppedGas run() {
    const double length = time_.length / substeps_;
    for (int i = 0; i < substeps_ && length > 0; ++i)
      step({time_.start + i * length, length, static_cast<std::size_t>(i)});
    SteppedGas stepped{std::make_shared<const PackedGas>(plan_.grid, state_, plan_.timeScale,
                                                         detail_ ? detail_->packed() : nullptr),
                       stats_};
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
    GasVelocity before = detail_ ? state_.velocity : GasVelocity();
    const GasStepReport report = stepGas(plan_.grid, *solver_, plan_.motion, seconds, expansion,
                                         forces.empty() ? GasPush() : push, state_, progress_);
    if (detail_) detail_->step(std::move(before), state_, seconds, report.halves / 2);
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
  std::optional<DetailStepper> detail_;
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
