// How far places are from an emission shape: for what fills voxels instead of giving single births.
#pragma once

#include "simulation/emission/shape.h"

namespace comet {

// Of a place in the shape's own space. Negative inside a box or sphere that is filled; otherwise the distance
// to its points.
struct ShapeDistance {
  double distance = 0;
  Vec3d away{0, 1, 0};  // from the nearest point of the surface to the place, of length one; outwards inside
};

// Whether shapeDistance knows it: all shapes but meshes and pictures.
bool hasDistance(const Shape& shape);
ShapeDistance shapeDistance(const Shape& shape, const Vec3d& place);

// Half the size of the box around the shape, about its origin; of shapes that have a distance.
Vec3d halfSize(const Shape& shape);

}  // namespace comet
