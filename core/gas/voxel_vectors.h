// Vectors at the middles of voxels, beside velocities across their faces.
#pragma once

#include "base/untouched.h"
#include "gas/gas_grid.h"

namespace comet {

// Three numbers for each voxel.
using VoxelVectors = std::array<UntouchedVector<float>, 3>;

// As large as the grid, and not yet set.
VoxelVectors voxelVectors(const GridLayout& cells);

// Velocities at the voxels' middles.
VoxelVectors middleVelocities(const GasGrid& grid, const GasVelocity& velocity);

// Adds to each face what the voxels beside it have on average; at a wall what the one has.
void addToFaces(const GasGrid& grid, const VoxelVectors& change, GasVelocity& velocity);

}  // namespace comet
