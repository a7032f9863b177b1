// What a gas carries, in finer voxels than those that it moves in.
//
// It goes along with the gas's own flow, to which swirls are added below those that the gas's voxels can
// hold, as strong as the smallest of these let expect (after Kim, Thürey, James and Gross 2008). Nothing of
// it acts back on the flow, so that the large shapes stay what they are.
#pragma once

#include "gas/gas_grid.h"

#include <cstdint>

namespace comet {

struct DetailSwirls {
  double strength = 1;     // 1 goes on from the gas's own swirls (Kolmogorov 1941)
  double seconds = 0;      // that have passed, by the gas's own time
  std::uint32_t seed = 0;  // selects a pattern
};

// The same box with so many times as many voxels along each axis along which gas can move.
GasGrid finerGrid(const GasGrid& grid, int times);

// The velocity across a finer grid's faces, with swirls. Runs on all threads.
GasVelocity detailFlow(const GasGrid& grid, const GasVelocity& flow, const GasGrid& finer,
                       const DetailSwirls& swirls);

// Mean values of a finer grid's voxels in each voxel of a grid of the same box.
GasChannel averagedDown(const GasGrid& finer, const GasChannel& channel, const GasGrid& grid);

// Brings what is carried nearer to what the gas holds in its own voxels: makes it up to twice or half as
// much. Where there is none of it, none comes.
void keepNear(const GasGrid& grid, const GasState& gas, const GasGrid& finer, GasState& carried);

}  // namespace comet
