// Lines that show where something is: outlines of shapes, circles about a place, axes.
#pragma once

#include "base/pose.h"
#include "geometry/mesh_content.h"

#include <vector>

namespace comet {

// Polylines, in scene units about their own origin.
using Wire = std::vector<std::vector<Vec3d>>;

// In the plane of two of the axes, numbered from 0; closed.
std::vector<Vec3d> circleLine(double radius, int first, int second);

// Three circles, one across each axis.
Wire sphereWire(double radius);
// By its full sizes.
Wire boxWire(const Vec3d& size);
// By half the size along each axis, standing along y.
Wire cylinderWire(const Vec3d& half);
// Likewise; the halves of a ball, as wide as `half.x`, lie beyond its ends.
Wire capsuleWire(const Vec3d& half);
// A piece of the endless plane y = 0, large enough to be seen as one, with its upper side marked.
Wire planeWire();
// So many edges that a large mesh is recognised and still drawn at once: all of a small one, of a large one
// those of some of its triangles.
Wire meshWire(const MeshContent& content);

// Lines as they lie in the scene.
struct PlacedWire {
  Wire wire;
  Pose pose{};
};

}  // namespace comet
