// Carries what is in a gas along with it.
//
// Each value comes from where its point was before, traced back with the middle of the step (second order),
// and is corrected by what going there and back again makes of it (MacCormack; Selle, Fedkiw, Kim, Liu and
// Rossignac 2008). A corrected value stays between those that it comes from, so that nothing overshoots.
#pragma once

#include "base/progress.h"
#include "gas/gas_grid.h"
#include "gas/gas_spot.h"

namespace comet {

// All of the state after `seconds` in which `flow` carries it; what comes in through open walls is clear air
// that is no warmer than the rest, and moves as what is at the open walls does on average.
// Throws Error(Cancelled), and leaves the state as it is by then.
void advect(const GasGrid& grid, const GasVelocity& flow, double seconds, GasState& state,
            const Progress& progress = {});

// Its contents alone, in a grid to whose faces `flow` belongs.
void advectContents(const GasGrid& grid, const GasVelocity& flow, double seconds, GasState& state,
                    const Progress& progress = {});

// The velocity anywhere in a gas, mixed from the faces around a place. Any thread.
class FlowBetweenFaces {
 public:
  // Both have to outlive it.
  FlowBetweenFaces(const GasGrid& grid, const GasVelocity& velocity);

  // At a position in the scene; outside the box that at its wall.
  Vec3d at(const Vec3d& position) const;

 private:
  const GasGrid& grid_;
  const GasVelocity& velocity_;
  std::array<GasNodes, 3> faces_;
};

// To ask but a few times.
inline Vec3d velocityAt(const GasGrid& grid, const GasVelocity& velocity, const Vec3d& position) {
  return FlowBetweenFaces(grid, velocity).at(position);
}

// A channel of the voxels at a position in the scene; outside the box that at its wall.
double valueAt(const GasGrid& grid, const GasChannel& channel, const Vec3d& position);

}  // namespace comet
