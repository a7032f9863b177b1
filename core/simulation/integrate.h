// The motion of a chunk of particles over a substep.
//
// For dv/dt = a + k (w - v) with a, k and w constant over the substep the result is exact, whatever the
// step's length; so is that for a turn alone. What varies with position is taken from the middle of the step,
// and drag that grows with the speed from an estimate of the speed there; turns are done half before and half
// after (Strang, "On the Construction and Comparison of Difference Schemes", 1968): the method is then of
// second order, and without drag and turns it is the leapfrog, which keeps the energy of orbits bounded.
#pragma once

#include "simulation/forces.h"

namespace comet {

// Sets chunk.middle.
void predictMiddle(Chunk& chunk, const Durations& durations);

// Moves the particles and changes their velocities. Ages are not touched.
void integrate(Chunk& chunk, const Forces& forces, const Durations& durations, const Masses& masses = {});

}  // namespace comet
