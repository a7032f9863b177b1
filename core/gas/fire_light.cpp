#include "gas/fire_light.h"

#include "base/parallel.h"
#include "gas/gas_grid.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

// Blocks along the longest side.
constexpr std::size_t kBlocks = 16;
// Blocks that glow less than this fraction of the brightest one are left out.
constexpr float kFaint = 1e-3F;
// Looks at the gas between two blocks.
constexpr int kLooks = 4;
// The mean of 1 / r² over a cube of edge 1, seen from its middle.
constexpr double kOwnBlock = 7.67;

float brightnessOf(const Vec3& light) { return std::max({light.x, light.y, light.z}); }

// A box in blocks of so many voxels, those at its upper ends cut off there.
struct Blocks {
  GridLayout layout;
  std::size_t edge = 1;           // voxels
  std::vector<Vec3> power;        // what each gives off in all, to all sides, units² of light over 4π
  std::vector<float> extinction;  // on average

  Blocks(const GasGrid& grid, const GasState& state, const GasLook& look) {
    const std::size_t longest = *std::max_element(grid.counts.begin(), grid.counts.end());
    edge = std::max<std::size_t>(1, (longest + kBlocks - 1) / kBlocks);
    for (std::size_t axis = 0; axis < 3; ++axis) layout.counts[axis] = (grid.counts[axis] + edge - 1) / edge;
    power.resize(layout.size());
    extinction.resize(layout.size());
    parallelFor(layout.size(), [&](std::size_t block) { gather(grid, state, look, block); });
  }

  std::array<std::size_t, 3> placeOf(std::size_t block) const {
    return {block % layout.row(), block % layout.plane() / layout.row(), block / layout.plane()};
  }
  Vec3d middleOf(std::size_t block) const {
    const auto at = placeOf(block);
    return Vec3d(static_cast<double>(at[0]), static_cast<double>(at[1]), static_cast<double>(at[2]));
  }

 private:
  void gather(const GasGrid& grid, const GasState& state, const GasLook& look, std::size_t block) {
    const GridLayout cells = grid.cells();
    const auto at = placeOf(block);
    std::array<std::size_t, 3> end{};
    for (std::size_t axis = 0; axis < 3; ++axis)
      end[axis] = std::min((at[axis] + 1) * edge, cells.counts[axis]);
    Vec3 glow(0.0F);
    float stops = 0;
    std::size_t count = 0;
    for (std::size_t z = at[2] * edge; z < end[2]; ++z)
      for (std::size_t y = at[1] * edge; y < end[1]; ++y)
        for (std::size_t x = at[0] * edge; x < end[0]; ++x, ++count) {
          const std::size_t i = cells.index(x, y, z);
          if (state.temperature[i] > look.glowsFrom) glow += look.fire.at(state.temperature[i]);
          stops += look.extinction.at(state.density[i]);
        }
    power[block] = glow * static_cast<float>(grid.voxel * grid.voxel * grid.voxel / (4 * kPi));
    extinction[block] = look.shadow * stops / static_cast<float>(count);
  }
};

// How much of the light comes through the gas between two blocks.
float through(const Blocks& blocks, const Vec3d& from, const Vec3d& to, double length) {
  float sum = 0;
  for (int i = 0; i < kLooks; ++i) {
    const Vec3d at = from + (to - from) * ((i + 0.5) / kLooks) + 0.5;
    sum += blocks.extinction[blocks.layout.index(
        static_cast<std::size_t>(at.x), static_cast<std::size_t>(at.y), static_cast<std::size_t>(at.z))];
  }
  return std::exp(-sum / kLooks * static_cast<float>(length));
}

std::vector<std::size_t> glowingBlocks(const Blocks& blocks) {
  float brightest = 0;
  for (const Vec3& power : blocks.power) brightest = std::max(brightest, brightnessOf(power));
  std::vector<std::size_t> glowing;
  for (std::size_t i = 0; i < blocks.power.size() && brightest > 0; ++i)
    if (brightnessOf(blocks.power[i]) > kFaint * brightest) glowing.push_back(i);
  return glowing;
}

}  // namespace

FireLight::FireLight(const GasGrid& grid, const GasState& state, const GasLook& look) {
  const Blocks blocks(grid, state, look);
  const std::vector<std::size_t> glowing = glowingBlocks(blocks);
  if (glowing.empty()) return;
  nodes_.emplace(blocks.layout);
  const auto perVoxel = 1 / static_cast<float>(blocks.edge);
  const float first = 0.5F * perVoxel - 0.5F;
  perVoxel_ = Four{perVoxel, perVoxel, perVoxel, 0};
  first_ = Four{first, first, first, 0};
  for (auto& channel : light_) channel.resize(blocks.layout.size());
  const double size = grid.voxel * static_cast<double>(blocks.edge);
  parallelFor(blocks.layout.size(), [&](std::size_t block) {
    const Vec3d to = blocks.middleOf(block);
    Vec3 sum(0.0F);
    for (const std::size_t from : glowing) {
      const Vec3d source = blocks.middleOf(from);
      const double squared = glm::dot(to - source, to - source);
      const double falloff = squared > 0 ? 1 / squared : kOwnBlock;
      sum += blocks.power[from] * static_cast<float>(falloff / (size * size)) *
             through(blocks, source, to, size * std::sqrt(squared));
    }
    for (std::size_t i = 0; i < 3; ++i) light_[i][block] = look.fireOnGas * sum[static_cast<int>(i)];
  });
}

Vec3 FireLight::at(const Four& at) const {
  if (!nodes_) return Vec3(0.0F);
  const GasSpot spot = nodes_->spotAt(at * perVoxel_ + first_);
  return {nodes_->valueAt(light_[0].data(), spot), nodes_->valueAt(light_[1].data(), spot),
          nodes_->valueAt(light_[2].data(), spot)};
}

}  // namespace comet
