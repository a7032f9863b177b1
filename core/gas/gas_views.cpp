#include "gas/gas_views.h"

#include "gas/voxel_vectors.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr std::size_t kBrick = 8;

GasChannel speedsOf(const PackedGas& gas) {
  const VoxelVectors middle = middleVelocities(gas.grid(), gas.velocity());
  GasChannel speeds(gas.grid().cells().size());
  for (std::size_t i = 0; i < speeds.size(); ++i)
    speeds[i] =
        std::sqrt(middle[0][i] * middle[0][i] + middle[1][i] * middle[1][i] + middle[2][i] * middle[2][i]);
  return speeds;
}

GasChannel agesOf(const PackedGas& gas) {
  GasChannel ages = gas.age();
  const GasChannel density = gas.density();
  ages.resize(density.size(), 0.0F);
  for (std::size_t i = 0; i < ages.size(); ++i) ages[i] = density[i] > 0 ? ages[i] / density[i] : 0.0F;
  return ages;
}

GasChannel fuelOf(const PackedGas& gas) {
  GasChannel fuel = gas.fuel();
  fuel.resize(gas.grid().cells().size(), 0.0F);
  return fuel;
}

GasChannel quantityOf(const PackedGas& gas, GasQuantity quantity) {
  switch (quantity) {
    case GasQuantity::Density:
      break;
    case GasQuantity::Temperature:
      return gas.temperature();
    case GasQuantity::Speed:
      return speedsOf(gas);
    case GasQuantity::Age:
      return agesOf(gas);
    case GasQuantity::Fuel:
      return fuelOf(gas);
  }
  return gas.density();
}

Vec3d alongAxis(std::size_t axis, double length) {
  Vec3d vector(0.0);
  vector[static_cast<int>(axis)] = length;
  return vector;
}

}  // namespace

GasSlice gasSlice(const PackedGas& gas, GasQuantity quantity, std::size_t axis, std::size_t plane) {
  const GasGrid& grid = gas.grid();
  const GridLayout cells = grid.cells();
  const GasChannel channel = quantityOf(gas, quantity);
  const std::size_t first = (axis + 1) % 3, second = (axis + 2) % 3;
  GasSlice slice;
  slice.axis = axis;
  slice.plane = std::min(plane, grid.counts[axis] - 1);
  slice.counts = {grid.counts[first], grid.counts[second]};
  slice.values.reserve(slice.counts[0] * slice.counts[1]);
  std::array<std::size_t, 3> at{};
  at[axis] = slice.plane;
  for (at[second] = 0; at[second] < slice.counts[1]; ++at[second])
    for (at[first] = 0; at[first] < slice.counts[0]; ++at[first])
      slice.values.push_back(channel[cells.index(at[0], at[1], at[2])]);
  const auto [min, max] = std::minmax_element(channel.begin(), channel.end());
  slice.min = *min;
  slice.max = *max;
  slice.corner = grid.corner + alongAxis(axis, (static_cast<double>(slice.plane) + 0.5) * grid.voxel);
  slice.along = alongAxis(first, grid.size()[static_cast<int>(first)]);
  slice.across = alongAxis(second, grid.size()[static_cast<int>(second)]);
  return slice;
}

std::vector<GasArrow> gasArrows(const PackedGas& gas, std::size_t axis, std::size_t plane, std::size_t max) {
  const GasGrid& grid = gas.grid();
  const GridLayout cells = grid.cells();
  const VoxelVectors middle = middleVelocities(grid, gas.velocity());
  const std::size_t first = (axis + 1) % 3, second = (axis + 2) % 3;
  const std::size_t longest = std::max(grid.counts[first], grid.counts[second]);
  const std::size_t step = std::max<std::size_t>(1, (longest + max - 1) / max);
  std::vector<GasArrow> arrows;
  std::array<std::size_t, 3> at{};
  at[axis] = std::min(plane, grid.counts[axis] - 1);
  for (at[second] = step / 2; at[second] < grid.counts[second]; at[second] += step)
    for (at[first] = step / 2; at[first] < grid.counts[first]; at[first] += step) {
      const std::size_t i = cells.index(at[0], at[1], at[2]);
      arrows.push_back({grid.middleOf(i), Vec3d(middle[0][i], middle[1][i], middle[2][i])});
    }
  return arrows;
}

std::vector<GasBrick> filledBricks(const PackedGas& gas) {
  const GasGrid& grid = gas.grid();
  const GridLayout cells = grid.cells();
  const GasChannel density = gas.density();
  GridLayout bricks;
  for (std::size_t axis = 0; axis < 3; ++axis)
    bricks.counts[axis] = (cells.counts[axis] + kBrick - 1) / kBrick;
  std::vector<std::uint8_t> holds(bricks.size(), 0);
  for (std::size_t z = 0; z < cells.counts[2]; ++z)
    for (std::size_t y = 0; y < cells.counts[1]; ++y)
      for (std::size_t x = 0; x < cells.counts[0]; ++x)
        if (density[cells.index(x, y, z)] > 0) holds[bricks.index(x / kBrick, y / kBrick, z / kBrick)] = 1;
  std::vector<GasBrick> filled;
  for (std::size_t i = 0; i < holds.size(); ++i) {
    if (holds[i] == 0) continue;
    const std::array<std::size_t, 3> at{i % bricks.row(), i % bricks.plane() / bricks.row(),
                                        i / bricks.plane()};
    GasBrick brick;
    for (std::size_t axis = 0; axis < 3; ++axis) {
      const auto component = static_cast<int>(axis);
      const std::size_t end = std::min((at[axis] + 1) * kBrick, cells.counts[axis]);
      brick.min[component] = grid.corner[component] + grid.voxel * static_cast<double>(at[axis] * kBrick);
      brick.max[component] = grid.corner[component] + grid.voxel * static_cast<double>(end);
    }
    filled.push_back(brick);
  }
  return filled;
}

}  // namespace comet
