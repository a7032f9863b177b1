// How a particle travels from where it is to a point that may move meanwhile.
#pragma once

#include "base/digest.h"
#include "base/random.h"
#include "base/vec.h"
#include "particles/arrival.h"
#include "scene/item.h"
#include "simulation/emission/varied.h"

namespace comet {

class Travel {
 public:
  Travel(const Item& influence, double frame);

  // How long a particle takes, seconds.
  double secondsOf(ParticleId id) const;
  // Where one is on its way to `point`, its progress given in the arrival: from where it would have gone by
  // itself over to the point, so that it neither jumps nor turns suddenly.
  Vec3d at(ParticleId id, const Arrival& arrival, const Vec3d& point) const;
  // How much of the way from the one to the other it has behind it, 0 to 1 for 0 to 1 of its travel time.
  double eased(double travelled) const;

  void describe(Hasher& hasher) const;

 private:
  enum class Easing { Both, None, In, Out };

  RandomSource random_;
  Varied seconds_;
  Easing easing_;
  double arc_;  // its height, as a fraction of the distance
  Vec3d arcDirection_;
  double noise_;      // units
  double noiseRate_;  // 1/s
};

}  // namespace comet
