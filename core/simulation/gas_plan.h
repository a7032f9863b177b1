// Everything that a gas does in the step that leads to a frame, already evaluated.
#pragma once

#include "gas/gas_detail.h"
#include "gas/gas_step.h"
#include "simulation/acting_influence.h"
#include "simulation/gas/gas_source.h"

#include <memory>
#include <vector>

namespace comet {

struct GasPlan {
  ItemId gas = 0;
  GasGrid grid;
  GasMotion motion;
  GasExtras extras;                         // what it carries beside density and temperature
  DetailSwirls swirls;                      // of what is seen in finer voxels
  double timeScale = 1;                     // seconds of the gas in one of the scene
  std::vector<SourcePlan> sources;          // in the scene's order, those that give
  std::vector<ActingInfluence> influences;  // those that move gas
  std::shared_ptr<const ResultCache> kept;  // with the gas

  void describe(Hasher& hasher) const;
};

// Of each gas that is on. `influences` are those of the scene as they act in the step.
std::vector<GasPlan> planGases(const Scene& scene, const FrameTime& time,
                               const std::vector<std::shared_ptr<const PlannedInfluence>>& influences);

}  // namespace comet
