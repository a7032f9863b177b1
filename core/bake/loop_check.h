// Whether an exact loop is one.
#pragma once

#include "particles/particle_state.h"

namespace comet {

// Whether both hold the same particles, in the same order, whichever rounds of a loop they were born in.
bool areSameButRound(const ParticleState& a, const ParticleState& b);

}  // namespace comet
