// The motion of a chunk of particles over a substep.
//
// For dv/dt = a + k (w - v) with a, k and w constant over the substep the result is exact, whatever the
// step's length; so is that for a turn alone, and for drag that grows with the speed, alone or with drag that
// does not. What varies with position is taken from the middle of the step; turns are done half before and
// half after (Strang, "On the Construction and Comparison of Difference Schemes", 1968), and so is what
// pushes against drag that grows with the speed: the method is then of second order, and without drag and
// turns it is the leapfrog, which keeps the energy of orbits bounded. Springs are weakened by so much that
// they swing at their own rate whatever the step's length, after Gautschi, "Numerical Integration of Ordinary
// Differential Equations Based on Trigonometric Polynomials", 1961; those that would swing more than about
// half a round within a step are held to less, and so never gain energy.
#pragma once

#include "simulation/motion/chunk.h"
#include "simulation/motion/forces.h"

namespace comet {

// Sets chunk.middle.
void predictMiddle(Chunk& chunk, const Durations& durations);

// Moves the particles and changes their velocities. Ages are not touched. The forces are used up.
void integrate(Chunk& chunk, Forces& forces, const Durations& durations, const Masses& masses = {});

}  // namespace comet
