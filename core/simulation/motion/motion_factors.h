// What a step of the motion multiplies velocities and accelerations with.
#pragma once

#include "simulation/motion/chunk.h"

namespace comet {

//   x += v * drift + a * driftGain,  v = v * decay + a * drift,  with a = acceleration + force * inverseMass
//
// The same for all particles, or one per particle where `perParticle` is set.
struct MotionFactors {
  float decay = 1, drift = 0, driftGain = 0, inverseMass = 1;
  bool perParticle = false;
  alignas(64) ChunkArray decays, drifts, driftGains, inverseMasses;
};

}  // namespace comet
