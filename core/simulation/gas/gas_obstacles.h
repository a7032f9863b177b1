// Deflectors as what is solid in a gas's box.
#pragma once

#include "gas/gas_solids.h"
#include "simulation/deflectors/deflector.h"

#include <vector>

namespace comet {

// What deflectors cover at a moment, seconds since the scene's first frame. Those without thickness stop gas
// as if they were a voxel thick. Runs on all threads.
// `timeScale` is that of the gas, by whose time velocities are given.
GasSolids solidsOf(const GasGrid& grid, const std::vector<const Deflector*>& deflectors, double seconds,
                   double timeScale);

}  // namespace comet
