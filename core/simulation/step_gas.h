// The step of one gas: sources, forces, pressure, and what it carries.
#pragma once

#include "simulation/frame/scene_frame.h"
#include "simulation/gas_plan.h"

namespace comet {

struct SteppedGas {
  std::shared_ptr<const PackedGas> content;
  GasStats stats;
};

// `before` is the gas in the frame before, null if it was not there yet; one in another box, or in other
// voxels, is brought into those that the gas has now. `particles` are those of the frame before. Runs on all
// threads; the result does not depend on their number. Throws Error(Budget) before it begins if there is not
// enough memory, and Error(Cancelled).
SteppedGas stepGas(const GasPlan& plan, const FrameTime& time, int substeps, const PackedGas* before,
                   const ParticleState& particles, const Progress& progress);

}  // namespace comet
