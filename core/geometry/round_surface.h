// A closed surface around balls and round threads.
//
// Their signed distances are written into a dense grid, of which the nearest counts, and the grid's zero is
// turned into a mesh (OpenVDB, dual contouring without sharp features).
#pragma once

#include "base/progress.h"
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

// `voxel` in units; each smoothing rounds off what is about a voxel large. Parts of a smaller radius than a
// voxel get that one, so that a thread is one piece however thin it is: samples within a radius of half a
// cell's diagonal are connected through the cells' faces (Cohen-Or & Kaufman, "Fundamentals of surface
// voxelization", 1995). Every edge of the mesh has two triangles. Throws Error(Budget) if the grid would take
// more than `mostBytes`, before it takes any, and Error(Cancelled).
Mesh roundSurface(const std::vector<RoundPiece>& pieces, double voxel, int smoothing, std::size_t maxBytes,
                  const Progress& progress = {});

}  // namespace comet
