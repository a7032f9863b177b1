// Round tubes along lines, with rounded ends.
#pragma once

#include "geometry/mesh.h"

#include <span>
#include <vector>

namespace comet {

struct TubePoint {
  Vec3d at{0.0};
  double radius = 0;  // units
  Vec3 color{1.0F};   // linear
};

// Tubes as one mesh, with a colour for each of its points.
struct TubeMesh {
  Mesh mesh;
  std::vector<Vec3> colors;

  // Adds the triangles of another.
  void append(const TubeMesh& other);
};

// Adds a closed tube with so many sides, at least three. Its cross-sections turn about the line as little as
// can be (Wang, Jüttler, Zheng and Liu, "Computation of rotation minimizing frames", 2008), so that it never
// twists. Points that lie on the one before are left out; with fewer than two left there is no tube.
void addTube(std::span<const TubePoint> line, int sides, TubeMesh& tubes);

}  // namespace comet
