// Swirls finer than those that a gas makes by itself.
#pragma once

#include "base/curl_noise.h"
#include "gas/gas_grid.h"

namespace comet {

// Turns the velocities of a gas towards curl noise: in a second by the noise's vectors times their lengths,
// which stay as they are. So gas at rest stays at rest, and gas that is stirred gets no energy from it. Runs
// on all threads.
void addTurbulence(const GasGrid& grid, const CurlNoise& noise, double seconds, GasVelocity& velocity);

}  // namespace comet
