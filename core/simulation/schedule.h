// Who takes part in which stage of moving an emitter's particles through a step, and what has to be known of
// the particles for it.
#pragma once

#include "simulation/plan.h"

#include <vector>

namespace comet {

// Compiled once for a step, after influences have seen the particles; refers to the plan. Each list is in the
// scene's order.
//
// A substep is: who pushes is asked, particles are integrated, corrected and deflected. Where nothing in it
// looks at other particles as they are within the step, a chunk goes through all substeps at one go while it
// is in the processor's cache. Those that touch others go through each substep together (see ContactStep).
struct Schedule {
  explicit Schedule(const EmitterPlan& plan);

  const EmitterPlan& emitter;
  std::vector<const ActingInfluence*> pushing, correcting, touching, deflecting, displacing;
  bool readsPositions = false;  // in the middle of a substep
  bool readsAges = false;
  bool keepsDepth = false;  // nothing moves out of the plane of x and y
};

}  // namespace comet
