#include "gas/gas_detail.h"

#include "base/curl_noise.h"
#include "base/random.h"
#include "gas/gas_spot.h"
#include "gas/resample.h"
#include "gas/rows.h"
#include "gas/voxel_vectors.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

// Points whose noise is found at once.
constexpr std::size_t kPointsAtOnce = 128;
// By how much weaker swirls are that are half as large: 2^(-5/6), by the energy spectrum of turbulence.
constexpr double kHalfAsLarge = 0.56;
// What turns with half of the vorticity moves so fast a voxel away, where the smallest swirls end; in terms
// of the vorticity and a voxel's size.
constexpr double kAtRim = 0.5;
// How long swirls go along with the gas until others have taken their place, seconds.
constexpr double kLife = 0.3;
// The most that is given or taken in one step, as a factor.
constexpr float kMostKept = 2;

// Patterns of swirls that go along with the gas and are replaced one by the other before it has torn them
// (regenerated texture coordinates; Neyret 2003).
struct Phase {
  CurlNoise noise;
  float carried = 0;  // seconds along the flow since the pattern was whole, below 0 before that
};

std::array<Phase, 2> phasesAt(const DetailSwirls& swirls, double scale, int octaves) {
  std::array<Phase, 2> phases;
  double squares = 0;
  for (std::size_t i = 0; i < phases.size(); ++i) {
    const double lives = swirls.seconds / kLife + 0.5 * static_cast<double>(i);
    const double life = std::floor(lives), part = lives - life;
    const double weight = 1 - std::abs(2 * part - 1);
    squares += weight * weight;
    Phase& phase = phases[i];
    phase.carried = static_cast<float>((part - 0.5) * kLife);
    phase.noise.scale = static_cast<float>(scale);
    phase.noise.octaves = octaves;
    phase.noise.strength = static_cast<float>(weight);
    const auto number = static_cast<std::uint64_t>(static_cast<std::int64_t>(life));
    phase.noise.seed = static_cast<std::uint32_t>(combineKeys(combineKeys(swirls.seed, i), number));
  }
  // As strong at all times.
  for (Phase& phase : phases) phase.noise.strength /= static_cast<float>(std::sqrt(squares));
  return phases;
}

// The vorticity in each voxel, times a voxel's size.
GasChannel vorticities(const GasGrid& grid, const VoxelVectors& middle) {
  const GridLayout cells = grid.cells();
  GasChannel speeds(cells.size());
  forRows(cells, [&](std::size_t y, std::size_t z) {
    for (std::size_t x = 0; x < cells.counts[0]; ++x) {
      const std::array<std::size_t, 3> at{x, y, z};
      const std::size_t i = cells.index(x, y, z);
      const auto slope = [&](std::size_t component, std::size_t axis) {
        const std::size_t step = stepAlong(cells, axis);
        const std::size_t low = at[axis] > 0 ? i - step : i;
        const std::size_t high = at[axis] + 1 < cells.counts[axis] ? i + step : i;
        const auto apart = static_cast<float>((high - low) / step);
        return apart > 0 ? (middle[component][high] - middle[component][low]) / apart : 0.0F;
      };
      const float a = slope(2, 1) - slope(1, 2), b = slope(0, 2) - slope(2, 0), c = slope(1, 0) - slope(0, 1);
      speeds[i] = std::sqrt(a * a + b * b + c * c);
    }
  });
  return speeds;
}

// The places among a grid's nodes of the middles of a finer grid's voxels.
class Among {
 public:
  Among(const GasGrid& grid, const GasGrid& finer) : nodes_(grid.cells()) {
    const Vec3d first = (finer.middleOf(0, 0, 0) - grid.corner) / grid.voxel - 0.5;
    first_ = Four{static_cast<float>(first.x), static_cast<float>(first.y), static_cast<float>(first.z), 0};
    step_ = static_cast<float>(finer.voxel / grid.voxel);
  }
  GasSpot spot(std::size_t x, std::size_t y, std::size_t z) const {
    return nodes_.spotAt(
        first_ + step_ * Four{static_cast<float>(x), static_cast<float>(y), static_cast<float>(z), 0});
  }
  float value(const float* channel, const GasSpot& spot) const { return nodes_.valueAt(channel, spot); }

 private:
  GasNodes nodes_;
  Four first_{};
  float step_ = 1;
};

// What is needed for some of a row's voxels.
struct SwirlRoom {
  using Numbers = std::array<float, kPointsAtOnce>;
  alignas(64) std::array<Numbers, 3> flow{}, positions{}, noise{};
  Numbers speeds{};
};

void addSwirls(const GasGrid& grid, const GasVelocity& flow, const GasGrid& finer, const DetailSwirls& swirls,
               GasVelocity& velocity) {
  const double times = grid.voxel / finer.voxel;
  const std::array<Phase, 2> phases = phasesAt(swirls, grid.voxel, times > 2.5 ? 2 : 1);
  const auto strength = static_cast<float>(swirls.strength * kAtRim * kHalfAsLarge);
  const VoxelVectors middle = middleVelocities(grid, flow);
  const GasChannel speeds = vorticities(grid, middle);
  const Among among(grid, finer);
  const GridLayout cells = finer.cells();
  VoxelVectors push = voxelVectors(cells);
  forRowsWith<SwirlRoom>(cells, [&](std::size_t y, std::size_t z, SwirlRoom& room) {
    for (std::size_t x = 0; x < cells.counts[0]; x += kPointsAtOnce) {
      const std::size_t start = cells.index(x, y, z), count = std::min(kPointsAtOnce, cells.counts[0] - x);
      for (std::size_t i = 0; i < count; ++i) {
        const GasSpot spot = among.spot(x + i, y, z);
        room.speeds[i] = strength * among.value(speeds.data(), spot);
        for (std::size_t axis = 0; axis < 3; ++axis)
          room.flow[axis][i] = among.value(middle[axis].data(), spot);
      }
      for (auto& numbers : room.noise) numbers.fill(0);
      for (const Phase& phase : phases) {
        for (std::size_t i = 0; i < count; ++i) {
          const Vec3d place = finer.middleOf(x + i, y, z);
          for (std::size_t axis = 0; axis < 3; ++axis)
            room.positions[axis][i] =
                static_cast<float>(place[static_cast<int>(axis)]) - phase.carried * room.flow[axis][i];
        }
        addCurlNoise(phase.noise, count,
                     {room.positions[0].data(), room.positions[1].data(), room.positions[2].data()},
                     {room.noise[0].data(), room.noise[1].data(), room.noise[2].data()});
      }
      for (std::size_t axis = 0; axis < 3; ++axis)
        for (std::size_t i = 0; i < count; ++i)
          push[axis][start + i] = finer.isStill(axis) ? 0.0F : room.speeds[i] * room.noise[axis][i];
    }
  });
  addToFaces(finer, push, velocity);
}

// Nearer to `wanted` on average in each voxel of the coarser grid: channels that hold amounts of one thing.
void keepNear(const GasGrid& grid, const GasChannel& wanted, const GasGrid& finer, const GasChannel& like,
              const std::vector<GasChannel*>& channels) {
  GasChannel factors = averagedDown(finer, like, grid);
  forBlocks(factors.size(), [&](std::size_t begin, std::size_t end) {
    for (std::size_t i = begin; i < end; ++i) {
      const bool isUnlike = factors[i] == 0 || factors[i] * wanted[i] < 0;
      factors[i] = isUnlike ? 1.0F : std::clamp(wanted[i] / factors[i], 1 / kMostKept, kMostKept);
    }
  });
  const Among among(grid, finer);
  const GridLayout cells = finer.cells();
  forRows(cells, [&](std::size_t y, std::size_t z) {
    for (std::size_t x = 0; x < cells.counts[0]; ++x) {
      const std::size_t i = cells.index(x, y, z);
      if (like[i] == 0) continue;
      const float factor = among.value(factors.data(), among.spot(x, y, z));
      for (GasChannel* channel : channels) (*channel)[i] *= factor;
    }
  });
}

}  // namespace

GasGrid finerGrid(const GasGrid& grid, int times) {
  GasGrid finer = grid;
  finer.voxel = grid.voxel / times;
  for (std::size_t axis = 0; axis < 3; ++axis) {
    if (!grid.isStill(axis))
      finer.counts[axis] *= static_cast<std::size_t>(times);
    else
      finer.corner[static_cast<int>(axis)] += 0.5 * (grid.voxel - finer.voxel);
  }
  return finer;
}

GasVelocity detailFlow(const GasGrid& grid, const GasVelocity& flow, const GasGrid& finer,
                       const DetailSwirls& swirls) {
  GasState moving;
  moving.velocity = flow;
  GasVelocity velocity = resampled(grid, moving, finer).velocity;
  if (swirls.strength > 0) addSwirls(grid, flow, finer, swirls, velocity);
  return velocity;
}

GasChannel averagedDown(const GasGrid& finer, const GasChannel& channel, const GasGrid& grid) {
  const GridLayout cells = grid.cells(), fine = finer.cells();
  std::array<std::size_t, 3> times{};
  for (std::size_t axis = 0; axis < 3; ++axis) times[axis] = finer.counts[axis] / grid.counts[axis];
  const float part = 1 / static_cast<float>(times[0] * times[1] * times[2]);
  GasChannel means(cells.size());
  forRows(cells, [&](std::size_t y, std::size_t z) {
    float* to = means.data() + cells.index(0, y, z);
    for (std::size_t k = 0; k < times[2]; ++k)
      for (std::size_t j = 0; j < times[1]; ++j) {
        const float* from = channel.data() + fine.index(0, y * times[1] + j, z * times[2] + k);
        for (std::size_t x = 0; x < cells.counts[0]; ++x)
          for (std::size_t i = 0; i < times[0]; ++i) to[x] += from[x * times[0] + i];
      }
    for (std::size_t x = 0; x < cells.counts[0]; ++x) to[x] *= part;
  });
  return means;
}

void keepNear(const GasGrid& grid, const GasState& gas, const GasGrid& finer, GasState& carried) {
  // What comes and goes with the density keeps its proportion; the density last, since it says where any is.
  std::vector<GasChannel*> withDensity;
  for (GasChannel& color : carried.color)
    if (!color.empty()) withDensity.push_back(&color);
  if (carried.hasAge()) withDensity.push_back(&carried.age);
  withDensity.push_back(&carried.density);
  keepNear(grid, gas.density, finer, carried.density, withDensity);
  keepNear(grid, gas.temperature, finer, carried.temperature, {&carried.temperature});
  if (carried.hasFuel() && gas.hasFuel()) keepNear(grid, gas.fuel, finer, carried.fuel, {&carried.fuel});
}

}  // namespace comet
