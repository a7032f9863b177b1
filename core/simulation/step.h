// One step of the simulation: from a frame to the next.
#pragma once

#include "simulation/frame/scene_frame.h"
#include "simulation/plan.h"

namespace comet {

// To be raised with every change after which the same plan gives other frames, or after which frames are kept
// in another form: those on a disk end with the code that made them.
constexpr int kSimulationVersion = 4;

// The frame that follows `previous` according to `plan`. For the scene's first frame pass an empty frame.
// Groups of emitters that are not in the plan end. Runs on all threads; the result does not depend on their
// number. Throws Error(Budget) if memory runs out, and Error(Cancelled).
SceneFramePtr stepFrame(const SceneFrame& previous, const FramePlan& plan, const Progress& progress = {});

}  // namespace comet
