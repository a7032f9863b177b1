// Triangle meshes of simple shapes, for drawing. About their own middle, standing along y.
#pragma once

#include "geometry/mesh.h"

namespace comet {

// With an edge for each face of its own, so that its faces look flat.
Mesh boxMesh(const Vec3d& half);

// What an outline gives when it is turned once round the y axis; its points are (distance from the axis,
// height), from the bottom up. Where two points are the same, there is an edge.
Mesh latheMesh(const std::vector<Vec2d>& outline);

// Outlines for it.
std::vector<Vec2d> sphereOutline(double radius);
std::vector<Vec2d> cylinderOutline(double radius, double halfHeight);
std::vector<Vec2d> capsuleOutline(double radius, double halfHeight);
std::vector<Vec2d> discOutline(double radius);

}  // namespace comet
