// Swirls that the grid takes, given back to a gas.
#pragma once

#include "gas/gas_grid.h"

namespace comet {

// Pushes air along around its swirls, by `strength` and the size of the voxels (Steinhoff and Underhill 1994;
// Fedkiw, Stam and Jensen 2001), but gives it no more than `max` of energy: half the sum of the velocities'
// squares over the voxels. Without that limit swirls would never come to rest. Runs
// on all threads.
void confineVorticity(const GasGrid& grid, double strength, double seconds, double max,
                      GasVelocity& velocity);

}  // namespace comet
