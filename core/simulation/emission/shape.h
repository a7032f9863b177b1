// Where on an emitter's shape a particle is born.
//
// Shapes lie around their own origin: line along x; ring, disc and rectangle flat, with their normal along y;
// pictures upright, facing z.
#pragma once

#include "base/digest.h"
#include "base/vec.h"
#include "geometry/mesh_content.h"
#include "geometry/wire.h"
#include "scene/item.h"
#include "simulation/emission/picture_sampler.h"

#include <memory>

namespace comet {

enum class ShapeType { Point, Line, Ring, Disc, Rectangle, Box, Sphere, Mesh, Picture };

struct Shape {
  ShapeType type = ShapeType::Point;
  bool surfaceOnly = false;  // box and sphere: births on the surface, not inside
  Vec3d extent{1.0};         // full lengths of line (x), rectangle (x, z) and box
  double radius = 1;         // of ring, disc and sphere
  double pictureWidth = 1;
  MeshRegion region;
  // Kept alive here, since the samplers refer to them. Null while there is no such file.
  std::shared_ptr<const MeshContent> mesh;
  std::shared_ptr<const MeshSampler> meshSampler;
  std::shared_ptr<const PictureSampler> pictureSampler;
  Digest pictureKey;  // of all that the sampler depends on

  // Whether it can give births: a mesh may lack what was asked for.
  bool givesBirths() const;
  void describe(Hasher& hasher) const;
  // For drawing it.
  Wire wire() const;
};

// A place of birth, in the shape's own space.
struct ShapePoint {
  Vec3d at{0.0};
  Vec3d normal{0, 1, 0};  // of length one
  Vec3d color{1.0};       // of the picture there, linear
};

Shape shapeOf(const Item& emitter, double frame);

// Why the emitter's shape gives no births although it is asked to; empty if it does.
std::string problemWithShape(const Item& emitter, double frame);

// A point of the shape for three numbers in [0, 1); uniform numbers give points uniform over its length, area
// or volume. `more` gives three further uniform numbers for a counter.
template <typename More>
ShapePoint pointOn(const Shape& shape, const Vec3d& numbers, const More& more);

// Of every shape but meshes.
ShapePoint pointOnSimpleShape(const Shape& shape, const Vec3d& numbers);

template <typename More>
ShapePoint pointOn(const Shape& shape, const Vec3d& numbers, const More& more) {
  if (shape.type != ShapeType::Mesh) return pointOnSimpleShape(shape, numbers);
  if (!shape.meshSampler) return {};
  const SurfacePoint point = shape.meshSampler->pick(numbers, more);
  return {point.at, point.normal, Vec3d(1.0)};
}

}  // namespace comet
