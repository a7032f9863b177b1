#include "gas/gas_turbulence.h"

#include "gas/rows.h"
#include "gas/voxel_vectors.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

// Noise is computed for so many points at once.
constexpr std::size_t kAtOnce = 128;

// Positions along a row of voxels, and the noise there.
struct NoiseRoom {
  using Numbers = std::array<float, kAtOnce>;
  alignas(64) std::array<Numbers, 3> positions{}, noise{};

  // For `count` voxels of a row from x on.
  void fill(const GasGrid& grid, const CurlNoise& curl, const std::array<std::size_t, 3>& at,
            std::size_t count) {
    for (std::size_t i = 0; i < count; ++i) {
      const Vec3d place = grid.middleOf(at[0] + i, at[1], at[2]);
      for (std::size_t axis = 0; axis < 3; ++axis)
        positions[axis][i] = static_cast<float>(place[static_cast<int>(axis)]);
    }
    for (Numbers& numbers : noise) numbers.fill(0);
    addCurlNoise(curl, count, {positions[0].data(), positions[1].data(), positions[2].data()},
                 {noise[0].data(), noise[1].data(), noise[2].data()});
  }
};

}  // namespace

void addTurbulence(const GasGrid& grid, const CurlNoise& noise, double seconds, GasVelocity& velocity) {
  if (noise.strength == 0) return;
  const GridLayout cells = grid.cells();
  // Becomes the push.
  VoxelVectors push = middleVelocities(grid, velocity);
  CurlNoise pushed = noise;
  pushed.strength *= static_cast<float>(seconds);
  forRowsWith<NoiseRoom>(cells, [&](std::size_t y, std::size_t z, NoiseRoom& room) {
    for (std::size_t x = 0; x < cells.counts[0]; x += kAtOnce) {
      const std::size_t start = cells.index(x, y, z), count = std::min(kAtOnce, cells.counts[0] - x);
      float *u = push[0].data() + start, *v = push[1].data() + start, *w = push[2].data() + start;
      const auto rests = [&](const float* across) {
        return std::all_of(across, across + count, [](float speed) { return speed == 0; });
      };
      if (rests(u) && rests(v) && rests(w)) continue;
      room.fill(grid, pushed, {x, y, z}, count);
      for (std::size_t i = 0; i < count; ++i) {
        const float speed = std::sqrt(u[i] * u[i] + v[i] * v[i] + w[i] * w[i]);
        const float a = u[i] + speed * room.noise[0][i], b = v[i] + speed * room.noise[1][i],
                    c = w[i] + speed * room.noise[2][i];
        const float length = std::sqrt(a * a + b * b + c * c);
        const float kept = length > 0 ? speed / length : 0.0F;
        u[i] = kept * a - u[i];
        v[i] = kept * b - v[i];
        w[i] = kept * c - w[i];
      }
    }
  });
  addToFaces(grid, push, velocity);
}

}  // namespace comet
