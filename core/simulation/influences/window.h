// When an influence acts: in which part of the scene's time, and at which ages of particles.
#pragma once

#include "base/digest.h"
#include "base/random.h"
#include "params/schema.h"
#include "particles/particle_store.h"
#include "scene/item.h"
#include "simulation/emission/varied.h"

#include <vector>

namespace comet {

// How strongly the influence acts at a frame, 0 to 1.
double activityAt(const Item& influence, double frame);
// On average between two frames, or at one if they are the same. Beginning and end need not fall on frames.
double activityBetween(const Item& influence, double from, double until);

class AgeWindow {
 public:
  AgeWindow() = default;
  AgeWindow(const Item& influence, double frame);

  // Whether it acts at all ages.
  bool isOpen() const { return isOpen_; }
  // How strongly it acts on a particle that is so many seconds old, 0 to 1.
  float at(ParticleId id, double age) const;

  void describe(Hasher& hasher) const;

 private:
  bool isOpen_ = true;
  Varied from_{0, 0}, until_{0, 0};  // seconds
  double soft_ = 0;                  // seconds
  RandomSource random_{0};
};

// The parameters of every kind of influence.
std::vector<ParamSpec> windowParams();

}  // namespace comet
