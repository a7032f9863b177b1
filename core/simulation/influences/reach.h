// Where an influence acts: everywhere, or in a sphere, box or cylinder with a soft edge.
#pragma once

#include "base/digest.h"
#include "base/pose.h"
#include "base/unit_table.h"
#include "geometry/wire.h"
#include "params/schema.h"
#include "scene/item.h"

#include <vector>

namespace comet {

class Reach {
 public:
  enum class Shape { Everywhere, Sphere, Box, Cylinder };

  Reach() = default;
  Reach(const Item& influence, double frame);

  Shape shape() const { return shape_; }
  bool isEverywhere() const { return shape_ == Shape::Everywhere; }
  // How strongly the influence acts there, 0 to 1.
  float at(const Vec3d& position) const;

  void describe(Hasher& hasher) const;

  // For drawing it. Half the size along the shape's own axes; a cylinder stands along its y.
  const Pose& pose() const { return pose_; }
  const Vec3d& half() const { return half_; }
  double soft() const { return soft_; }
  // Its outline, `scale` times as large.
  Wire wire(double scale = 1) const;

 private:
  Shape shape_ = Shape::Everywhere;
  Pose pose_;
  Vec3d half_{1.0};
  double soft_ = 0;  // fraction of the way from the edge to the centre over which it fades
  bool insideOut_ = false;
  UnitTable<float> edge_;  // from where the fading begins, 0, to the edge, 1
};

// The parameters of every kind of influence.
std::vector<ParamSpec> reachParams();

}  // namespace comet
