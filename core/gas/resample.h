// A gas in another box, or in other voxels.
#pragma once

#include "gas/gas_grid.h"

namespace comet {

// What a gas is at the places of another grid, mixed between its voxels; beyond its box there is air at rest.
GasState resampled(const GasGrid& from, const GasState& state, const GasGrid& to);

}  // namespace comet
