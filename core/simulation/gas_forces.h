// What influences do to the velocity of a gas.
//
// They are asked at the voxels as they are asked at particles. What pushes (accelerations, forces, springs)
// pushes what is in the air, by its density up to 1; what moves or holds the air itself (wind, drag, turns)
// acts everywhere.
#pragma once

#include "simulation/gas_plan.h"

namespace comet {

class GasForces {
 public:
  // The plan's influences during a substep; the plan has to outlive it.
  GasForces(const GasPlan& plan, const Substep& substep);

  bool empty() const { return pushing_.empty(); }
  // Changes a velocity, by the gas's own time, by what they do in so many seconds of it. Runs on all threads.
  void push(const GasChannel& density, double seconds, GasVelocity& velocity) const;

 private:
  const GasGrid& grid_;
  double timeScale_;
  Substep substep_;
  std::vector<const ActingInfluence*> pushing_;
};

}  // namespace comet
