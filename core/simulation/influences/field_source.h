// Where a vector field's vectors come from, and where its box lies.
#pragma once

#include "base/pose.h"
#include "fields/vector_grid.h"
#include "scene/item.h"

#include <memory>
#include <vector>

namespace comet {

class FieldSource {
 public:
  FieldSource(const Item& field, double frame);

  // In the scene; nothing if there is no file, picture or stroke to make it from.
  Vec3d at(const Vec3d& position) const;
  void describe(Hasher& hasher) const;

  // For drawing it.
  const VectorGrid& grid() const { return *grid_; }
  const Pose& pose() const { return pose_; }
  const Vec3d& size() const { return size_; }

 private:
  std::shared_ptr<const VectorGrid> grid_;
  Digest content_;  // of the grid
  Pose pose_;       // of the box's middle
  Vec3d size_{1.0};
  Beyond beyond_ = Beyond::Nothing;
};

// Strokes are points in the box, before it is moved and turned.
std::vector<ParamSpec> fieldSourceParams();

}  // namespace comet
