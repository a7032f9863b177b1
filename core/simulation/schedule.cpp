#include "simulation/schedule.h"

namespace comet {

Schedule::Schedule(const EmitterPlan& plan) : emitter(plan), keepsDepth(plan.emission.launch.isFlat()) {
  for (const ActingInfluence& acting : plan.influences) {
    const InfluenceAction& action = acting.action();
    if (action.adds()) pushing.push_back(&acting);
    if (action.corrects()) correcting.push_back(&acting);
    if (action.contact()) touching.push_back(&acting);
    if (action.deflector()) deflecting.push_back(&acting);
    if (action.displaces()) displacing.push_back(&acting);
    readsPositions |= acting.readsPositions() || action.readsPositions();
    readsAges |= acting.readsAges();
  }
}

}  // namespace comet
