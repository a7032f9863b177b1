// A closed surface around balls and round threads.
//
// Their signed distances are written into a dense grid, of which the nearest counts, and the grid's zero is
// turned into a mesh (OpenVDB, dual contouring without sharp features).
#pragma once

#include "geometry/mesh.h"

#include <cstddef>
#include <vector>

namespace comet {

// A ball where both ends are the same.
struct RoundPiece {
  Vec3d from{0.0}, to{0.0};
  double fromRadius = 0, toRadius = 0;  // units
};

// The bytes that the grid around the pieces takes; 0 for no pieces.
double surfaceBytes(const std::vector<RoundPiece>& pieces, double voxel);

// `voxel` in units; each smoothing rounds off what is about a voxel large, and takes away what is as thin.
// Without, parts thinner than a voxel are made as thick. Every edge of the mesh has two triangles. Throws
// Error(Budget) if the grid would take more than `mostBytes`, before it takes any.
Mesh roundSurface(const std::vector<RoundPiece>& pieces, double voxel, int smoothing, std::size_t mostBytes);

}  // namespace comet
