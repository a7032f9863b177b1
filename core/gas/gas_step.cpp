#include "gas/gas_step.h"

#include "base/untouched.h"
#include "gas/advect.h"
#include "gas/gas_turbulence.h"
#include "gas/pressure_rows.h"
#include "gas/rows.h"
#include "gas/vorticity.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace comet {
namespace {

constexpr double kMaxPairs = 8;

// The velocity that is mirrored may have so many times more divergence left: the second half takes it away.
constexpr double kMiddle = 20;

// From all threads.
template <typename To>
void copyNumbers(const GasChannel& from, To& to) {
  forBlocks(from.size(), [&](std::size_t begin, std::size_t end) {
    std::copy_n(from.data() + begin, end - begin, to.data() + begin);
  });
}

void copyVelocity(const GasVelocity& from, GasVelocity& to) {
  for (std::size_t axis = 0; axis < 3; ++axis) copyNumbers(from[axis], to[axis]);
}

void fade(GasChannel& channel, double factor) {
  if (factor == 1) return;
  const auto kept = static_cast<float>(factor);
  forBlocks(channel.size(), [&](std::size_t begin, std::size_t end) {
    for (std::size_t i = begin; i < end; ++i) channel[i] *= kept;
  });
}

void growOlder(double seconds, GasState& state) {
  const auto passed = static_cast<float>(seconds);
  forBlocks(state.age.size(), [&](std::size_t begin, std::size_t end) {
    for (std::size_t i = begin; i < end; ++i) state.age[i] += passed * state.density[i];
  });
}

// How much of a wave of two voxels' length is taken away in a half of a step; of one of four a quarter of
// that, of one of eight a fiftieth.
constexpr float kWaveDamping = 0.15F;

// Twice the energy of a gas of density 1 in voxels of size 1.
double energyOf(const GasVelocity& velocity) {
  double sum = 0;
  for (const GasChannel& across : velocity)
    sum += sumOfBlocks(across.size(), [&](std::size_t begin, std::size_t end) {
      const std::size_t whole = (end - begin) / kPressureLanes * kPressureLanes;
      double squares = dotOf(across.data() + begin, across.data() + begin, whole);
      for (std::size_t i = begin + whole; i < end; ++i)
        squares += static_cast<double>(across[i]) * static_cast<double>(across[i]);
      return squares;
    });
  return sum;
}

// Takes away waves as short as the grid's own, which reflections would keep alive: fourth differences along
// each axis, which smooth flows hardly have. What lies next to a wall is left alone, and so are axes of few
// voxels.
void dampGridWaves(const GasGrid& grid, GasVelocity& velocity) {
  constexpr std::size_t kReach = 2;
  for (std::size_t axis = 0; axis < 3; ++axis) {
    if (grid.isStill(axis)) continue;
    const GridLayout faces = grid.faces(axis);
    std::vector<std::ptrdiff_t> steps;
    std::array<std::size_t, 3> rim{};
    for (std::size_t i = 0; i < 3; ++i) {
      if (faces.counts[i] <= 2 * kReach) continue;
      steps.push_back(static_cast<std::ptrdiff_t>(stepAlong(faces, i)));
      rim[i] = kReach;
    }
    UntouchedVector<float> before(velocity[axis].size());
    copyNumbers(velocity[axis], before);
    const auto own = 6 * static_cast<float>(steps.size());
    forRowsWith<std::vector<float>>(faces, [&](std::size_t y, std::size_t z, std::vector<float>& waves) {
      if (y < rim[1] || y + rim[1] >= faces.counts[1] || z < rim[2] || z + rim[2] >= faces.counts[2]) return;
      const std::size_t start = faces.index(rim[0], y, z);
      const auto count = static_cast<std::ptrdiff_t>(faces.counts[0] - 2 * rim[0]);
      const float* at = before.data() + start;
      waves.assign(at, at + count);
      for (float& wave : waves) wave *= own;
      for (const std::ptrdiff_t step : steps) {
        const float *far = at - 2 * step, *near = at - step, *next = at + step, *beyond = at + 2 * step;
        for (std::ptrdiff_t x = 0; x < count; ++x)
          waves[static_cast<std::size_t>(x)] += far[x] + beyond[x] - 4 * (near[x] + next[x]);
      }
      float* to = velocity[axis].data() + start;
      for (std::ptrdiff_t x = 0; x < count; ++x)
        to[x] -= kWaveDamping / 16 * waves[static_cast<std::size_t>(x)];
    });
  }
}

// The energy that the grid takes from a flow, and that may be given back to its swirls.
class SwirlsLost {
 public:
  // Nothing is measured where nothing is given back.
  explicit SwirlsLost(double strength) : isWanted_(strength > 0) {}

  template <typename Act>
  void measure(const GasVelocity& velocity, const Act& act) {
    const double before = isWanted_ ? energyOf(velocity) : 0;
    act();
    if (isWanted_) energy_ += 0.5 * std::max(0.0, before - energyOf(velocity));
  }

  // Since it was last asked for.
  double taken() { return std::exchange(energy_, 0); }

 private:
  bool isWanted_;
  double energy_ = 0;
};

// Mirrors a velocity at what is left of it without its divergence.
void reflect(const GasVelocity& projected, GasVelocity& velocity) {
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const float* kept = projected[axis].data();
    float* across = velocity[axis].data();
    forBlocks(velocity[axis].size(), [=](std::size_t begin, std::size_t end) {
      for (std::size_t i = begin; i < end; ++i) across[i] = 2 * kept[i] - across[i];
    });
  }
}

std::size_t resetEndless(GasChannel& channel) {
  return static_cast<std::size_t>(sumOfBlocks(channel.size(), [&](std::size_t begin, std::size_t end) {
    // A number that is endless, or none, times 0 is no number.
    float sum = 0;
    for (std::size_t i = begin; i < end; ++i) sum += channel[i] * 0.0F;
    std::size_t count = 0;
    if (sum == 0) return count;
    for (std::size_t i = begin; i < end; ++i)
      if (!std::isfinite(channel[i])) {
        channel[i] = 0;
        ++count;
      }
    return count;
  }));
}

std::size_t resetEndless(GasState& state) {
  std::size_t count = 0;
  for (GasChannel& across : state.velocity) count += resetEndless(across);
  for (GasChannel* channel : state.contents()) count += resetEndless(*channel);
  return count;
}

}  // namespace

double largestSpeed(const GasVelocity& velocity) {
  double squares = 0;
  for (const GasChannel& across : velocity) {
    const double found = largestOfBlocks(across.size(), [&](std::size_t begin, std::size_t end) {
      float max = 0;
      for (std::size_t i = begin; i < end; ++i) max = std::max(max, std::abs(across[i]));
      return max;
    });
    squares += found * found;
  }
  return std::sqrt(squares);
}

void fadeContents(const GasMotion& motion, double seconds, GasState& state) {
  const double left = std::exp(-motion.dissipation * seconds);
  fade(state.density, left);
  for (GasChannel* channel : state.withDensity()) fade(*channel, left);
  growOlder(seconds, state);
  fade(state.temperature, std::exp(-motion.cooling * seconds));
}

void addBuoyancy(const GasGrid& grid, const GasMotion& motion, double seconds, GasState& state) {
  if (motion.buoyancy == 0 && motion.weight == 0) return;
  const GridLayout cells = grid.cells(), faces = grid.faces(1);
  const auto lift = static_cast<float>(0.5 * motion.buoyancy * seconds);
  const auto weight = static_cast<float>(0.5 * motion.weight * seconds);
  forRows(faces, [&](std::size_t y, std::size_t z) {
    const std::size_t below = cells.index(0, y > 0 ? y - 1 : 0, z);
    const std::size_t above = cells.index(0, std::min(y, grid.counts[1] - 1), z);
    const float *warm = state.temperature.data(), *dense = state.density.data();
    float* up = state.velocity[1].data() + faces.index(0, y, z);
    for (std::size_t x = 0; x < faces.counts[0]; ++x)
      up[x] += lift * (warm[below + x] + warm[above + x]) - weight * (dense[below + x] + dense[above + x]);
  });
}

GasStepReport stepGas(const GasGrid& grid, PressureSolver& solver, const GasMotion& motion, double seconds,
                      const GasChannel& expansion, const GasPush& push, GasState& state,
                      const Progress& progress) {
  GasStepReport report;
  report.resetVoxels = resetEndless(state);
  const double voxels = largestSpeed(state.velocity) * seconds / grid.voxel;
  const double pairs = std::clamp(std::ceil(voxels / (2 * motion.maxVoxels)), 1.0, kMaxPairs);
  report.halves = 2 * static_cast<int>(pairs);
  const double half = seconds / report.halves;
  GasVelocity flow = state.velocity;
  // What burns swells as it burns: another expansion in each half.
  const bool burns = state.hasFuel();
  GasChannel swelling;
  SwirlsLost lost(motion.vorticity);
  for (int i = 0; i < report.halves; ++i) {
    progress.stopIfCancelled();
    lost.measure(state.velocity, [&] { advect(grid, flow, half, state, progress); });
    progress.stopIfCancelled();
    if (burns) {
      swelling = expansion;
      swelling.resize(grid.cells().size(), 0.0F);
      report.burntFuel += burnFuel(motion.combustion, half, state, swelling);
      radiateHeat(motion.combustion, half, state.temperature);
    }
    addBuoyancy(grid, motion, half, state);
    confineVorticity(grid, motion.vorticity, half, lost.taken(), state.velocity);
    addTurbulence(grid, motion.turbulence, half, state.velocity);
    if (push) push(state.velocity, half);
    lost.measure(state.velocity, [&] { dampGridWaves(grid, state.velocity); });
    fadeContents(motion, half, state);
    copyVelocity(state.velocity, flow);
    const bool isMiddle = i % 2 == 0;
    const PressureResult pressure =
        solver.project(flow, burns ? swelling : expansion, (isMiddle ? kMiddle : 1) * motion.tolerance,
                       motion.maxRounds, progress);
    report.rounds += pressure.rounds;
    report.divergenceLeft = pressure.residual;
    report.isReached = report.isReached && pressure.isReached;
    if (isMiddle)
      reflect(flow, state.velocity);
    else
      copyVelocity(flow, state.velocity);
  }
  return report;
}

}  // namespace comet
