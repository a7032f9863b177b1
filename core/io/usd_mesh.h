// Meshes over time, in the text form of the open scene-description standard.
#pragma once

#include "geometry/mesh.h"

#include <string>
#include <vector>

namespace comet {

// A mesh at one frame, with what is true of each of its points; its triangles have no part names.
struct MeshFrame {
  int frame = 0;
  Mesh mesh;
  std::vector<Vec3> velocities;  // units/s
  std::vector<Vec3> colors;      // linear light
  std::vector<Vec2> spots;       // in a picture, from its upper left corner, 0 to 1
};

// One mesh seen from both sides; points and faces may come and go. `rate` is in frames per second.
std::string encodeUsdMeshes(const std::vector<MeshFrame>& frames, double rate);

}  // namespace comet
