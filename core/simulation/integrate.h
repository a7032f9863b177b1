// The motion of a chunk of particles over a substep.
//
// For dv/dt = a + k (w - v) with a, k and w constant over the substep the result is exact, whatever the
// step's length. What varies with position is taken from the middle of the step: the method is then of second
// order.
#pragma once

#include "simulation/chunk.h"

namespace comet {

// How long each particle moves in a substep: all as long, or each as long as it has existed in it.
struct Durations {
  double all = 0;
  const double* own = nullptr;  // if set, one for each particle of the chunk

  double of(std::size_t i) const { return own ? own[i] : all; }
};

// What the particles weigh: all alike, or each its own.
struct Masses {
  double all = 1;
  const double* own = nullptr;  // if set, one for each particle of the chunk

  double of(std::size_t i) const { return own ? own[i] : all; }
};

// Sets chunk.middle.
void predictMiddle(Chunk& chunk, const Durations& durations);

// Moves the particles and changes their velocities. Ages are not touched.
void integrate(Chunk& chunk, const Forces& forces, const Durations& durations, const Masses& masses = {});

}  // namespace comet
