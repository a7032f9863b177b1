// How a deflector moves and turns during a frame's step.
#pragma once

#include "base/digest.h"
#include "base/pose.h"

namespace comet {

class DeflectorMotion {
 public:
  DeflectorMotion() = default;
  // From one place and turn to the other, evenly, in so many seconds; without any, it rests at the latter.
  DeflectorMotion(const Vec3d& place, const Mat3d& turn, const Vec3d& nextPlace, const Mat3d& nextTurn,
                  double seconds);

  bool moves() const { return moves_; }
  // Where it is a fraction of the step after its beginning.
  Pose at(double fraction) const;
  // Of the material that is at a position then.
  Vec3d velocityAt(const Vec3d& position, const Pose& pose) const;
  // Of what goes over the material at a velocity `over` it, evenly as one sees it who turns along: towards
  // the axis, and sideways (Coriolis). Units/s².
  Vec3d accelerationAt(const Vec3d& position, const Pose& pose, const Vec3d& over) const;
  // No material within `reach` of its place is faster.
  double maxSpeed(double reach) const;

  void describe(Hasher& hasher) const;

 private:
  bool moves_ = false;
  Vec3d place_{0.0}, way_{0.0};
  Mat3d turn_{1.0};
  Vec3d velocity_{0.0};          // units/s
  Vec3d axis_{0, 1, 0};          // of the turning, of length one
  double angle_ = 0, spin_ = 0;  // radians in the step, rad/s
};

}  // namespace comet
