// How particles are thrown.
#pragma once

#include "base/digest.h"
#include "base/distribution.h"
#include "base/random.h"
#include "scene/item.h"
#include "simulation/emission/shape.h"
#include "simulation/emission/shape_path.h"
#include "simulation/emission/varied.h"

#include <optional>

namespace comet {

enum class LaunchWay { Fixed, Normal, Outward, Around, Any };

class Launch {
 public:
  Launch() = default;
  Launch(const Item& emitter, double frame, std::uint64_t randomKey);

  // The velocity that the birth of this number is thrown with; `direction` is set to its way, of length one.
  Vec3d velocity(std::uint64_t birth, const ShapePoint& point, const ShapePath::Placement& pose,
                 Vec3d& direction) const;

  // Whether particles keep their depth.
  bool isFlat() const { return isFlat_; }

  void describe(Hasher& hasher) const;

 private:
  // Before the cone spreads it, in the scene.
  Vec3d path(std::uint64_t birth, const ShapePoint& point, const ShapePath::Placement& pose) const;
  Vec3d spread(const Vec3d& path, std::uint64_t birth) const;

  RandomSource random_{0};
  LaunchWay path_ = LaunchWay::Fixed;
  bool isFlat_ = false;  // in the plane of x and y
  Vec3d direction_{0, 1, 0};
  double cone_ = 0;  // radians
  Varied speed_;
  std::optional<Distribution> speedSpread_;  // none: even
  double noiseTurn_ = 0;                     // radians
  double noiseSpeed_ = 0;                    // share
  double noiseScale_ = 1;
};

// A direction uniform over the cap of the sphere around `axis`, for two numbers in [0, 1). Lengths are one,
// `cone` is in radians.
Vec3d directionInCone(const Vec3d& axis, double cone, double a, double b);

}  // namespace comet
