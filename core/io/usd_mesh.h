// Meshes over time, in the text form of the open scene-description standard.
#pragma once

#include "base/vec.h"

#include <array>
#include <cstdint>
#include <string>
#include <vector>

namespace comet {

// A mesh at one frame: its triangles, counter-clockwise seen from their fronts, and what is true of its
// points.
struct MeshFrame {
  int frame = 0;
  std::vector<std::array<std::uint32_t, 3>> triangles;  // indices into points
  std::vector<Vec3> points, normals;
  std::vector<Vec3> velocities;  // units/s
  std::vector<Vec3> colors;      // linear light
  std::vector<Vec2> spots;       // in a picture, from its upper left corner, 0 to 1
};

// One mesh seen from both sides; points and faces may come and go. `rate` is in frames per second.
std::string encodeUsdMeshes(const std::vector<MeshFrame>& frames, double rate);

}  // namespace comet
