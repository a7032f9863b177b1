// Channels of a gas without what is too fine for its grid.
#pragma once

#include "gas/gas_grid.h"

namespace comet {

// Each value mixed with its neighbours along each axis by 1 : 4 : 1, as cubic splines mix their nodes: of
// waves of two voxels' length a third is left, long ones stay. Beyond the ends values are as at the ends.
GasChannel smoothed(const GridLayout& layout, GasChannel channel);

}  // namespace comet
