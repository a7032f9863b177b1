// How much of a light reaches each voxel of a gas.
//
// Found plane by plane along the light: what reaches a voxel is what reaches the point of the plane before it
// that its light comes through, less what is stopped in between (Beer and Lambert). The light of a place goes
// out from it in six pyramids, one for each side of a cube, each swept by itself.
#pragma once

#include "base/light.h"
#include "gas/gas_grid.h"
#include "gas/gas_look.h"

namespace comet {

// The fraction of the light that gas lets through to each voxel's middle, 0 to 1; its falloff is not in it.
// Runs on all threads; the result does not depend on their number.
GasChannel lightThrough(const GasGrid& grid, const GasChannel& density, const GasLook& look,
                        const Light& light);

}  // namespace comet
