// The step of one gas: sources, forces, pressure, and what it carries.
#pragma once

#include "simulation/frame/scene_frame.h"
#include "simulation/gas_plan.h"

namespace comet {

struct SteppedGas {
  std::shared_ptr<const PackedGas> content;
  GasStats stats;
};

// `previous` is the frame before, in which there need not be this gas yet. Runs on all threads; the result
// does not depend on their number. Throws Error(Budget) before it begins if there is not enough memory, and
// Error(Cancelled).
SteppedGas stepGas(const GasPlan& plan, const FrameTime& time, int substeps, const SceneFrame& previous,
                   const Progress& progress);

}  // namespace comet
