// Which voxels of a gas a source covers in a step, and what it gives to them.
#pragma once

#include "gas/gas_grid.h"
#include "particles/particle_state.h"
#include "simulation/gas/gas_source.h"

#include <array>
#include <vector>

namespace comet {

// A box of voxels, and for each how much of what a source gives comes there, 0 to 1.
struct SourceCoverage {
  std::array<std::size_t, 3> begin{}, end{};  // of the voxels of the grid
  std::vector<float> amount;                  // of the box, x fastest
  std::vector<Vec3> velocity;                 // there, if the source sets any
  std::vector<Vec3> color;                    // there, if that differs

  GridLayout layout() const { return {{end[0] - begin[0], end[1] - begin[1], end[2] - begin[2]}}; }
  bool isEmpty() const { return amount.empty(); }
};

// `particles` are those of the moment at which the step begins. Velocities are by the time of the scene. Runs
// on all threads; throws Error(Cancelled).
SourceCoverage coverageOf(const SourcePlan& source, const GasGrid& grid, const ParticleState& particles,
                          const Progress& progress);

// Adds to a gas what a source gives it in `seconds` of the gas's own time, and to `expansion` how fast it
// swells (of each voxel, per second). `timeScale` is how many of the gas's seconds pass in one of the
// scene's.
void giveGas(const SourcePlan& source, const SourceCoverage& coverage, const GasGrid& grid, double seconds,
             double timeScale, GasState& state, GasChannel& expansion);

}  // namespace comet
