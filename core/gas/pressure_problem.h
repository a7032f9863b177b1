// What the pressure of a gas depends on besides its velocity: its box, what is solid in it, and which parts
// of it are closed off.
#pragma once

#include "base/progress.h"
#include "gas/multigrid.h"

namespace comet {

// May be shared by solvers of several threads.
struct PressureProblem {
  GasGrid grid;
  GasVelocity solidVelocity;  // of what is solid, across all faces; empty if all of it rests
  std::shared_ptr<const std::vector<MultigridLevel>> levels;
  // The closed part that a voxel of the finest level belongs to, from 1; 0 for none. Empty if there is none.
  std::vector<std::uint32_t> part;
  std::vector<double> partSize;  // in voxels

  const PressureLevel& finest() const { return levels->front().grid; }
};

// Throws Error(Cancelled).
std::shared_ptr<const PressureProblem> pressureProblem(const GasGrid& grid, GasSolids solids,
                                                       const Progress& progress = {});

}  // namespace comet
