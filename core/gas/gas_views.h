// Parts of a gas as they are shown beside its picture: what a plane of it holds, and where there is any.
#pragma once

#include "gas/packed_gas.h"

namespace comet {

// What a channel of a gas holds in the voxels of a plane across an axis.
struct GasSlice {
  std::size_t axis = 2, plane = 0;      // the voxels' place along the axis
  std::array<std::size_t, 2> counts{};  // along the next two axes, in the order x, y, z, x, y
  std::vector<float> values;            // the first of the two fastest
  float min = 0, max = 0;               // in the whole gas

  // The corner of the plane at the lower ends of both axes, and what leads from it to the ends; scene units.
  Vec3d corner{0.0}, along{0.0}, across{0.0};
};

enum class GasQuantity { Density, Temperature, Speed, Age, Fuel };

// Ages are in seconds of the gas's own time; they and fuel are 0 where none are carried; speeds by the time
// of the scene.
GasSlice gasSlice(const PackedGas& gas, GasQuantity quantity, std::size_t axis, std::size_t plane);

// A velocity at a place, units per second in the scene.
struct GasArrow {
  Vec3d place{0.0}, velocity{0.0};
};

// On a plane of voxels across an axis, one for every so many voxels that the longest side has about `max`.
std::vector<GasArrow> gasArrows(const PackedGas& gas, std::size_t axis, std::size_t plane, std::size_t max);

// The bricks of 8³ voxels that hold any density, those at the ends cut off there: their least and greatest
// corners in the scene.
struct GasBrick {
  Vec3d min{0.0}, max{0.0};
};
std::vector<GasBrick> filledBricks(const PackedGas& gas);

}  // namespace comet
