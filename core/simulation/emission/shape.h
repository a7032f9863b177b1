// Where on an emitter's shape a particle is born.
//
// Shapes lie around their own origin: line along x; ring, disc and rectangle flat, with their normal along y.
#pragma once

#include "base/digest.h"
#include "base/vec.h"
#include "scene/item.h"

namespace comet {

enum class ShapeType { Point, Line, Ring, Disc, Rectangle, Box, Sphere };

struct Shape {
  ShapeType type = ShapeType::Point;
  bool surfaceOnly = false;  // box and sphere: births on the surface, not inside
  Vec3d extent{1.0};         // full lengths of line (x), rectangle (x, z) and box
  double radius = 1;         // of ring, disc and sphere

  void describe(Hasher& hasher) const;
};

Shape shapeOf(const Item& emitter, double frame);

// A point of the shape for three numbers in [0, 1); uniform numbers give points uniform over its length, area
// or volume.
Vec3d pointOn(const Shape& shape, const Vec3d& numbers);

}  // namespace comet
