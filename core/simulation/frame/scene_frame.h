// A frame of a scene: its number, the states that it shows, and the report of the step that led to it.
//
// The parts are shared each on its own. Only they are kept and found by what produced them: the number stands
// outside, so that one state can be that of several frames.
#pragma once

#include "particles/particle_state.h"
#include "simulation/frame/gases_state.h"
#include "simulation/frame/step_report.h"

#include <memory>

namespace comet {

struct SceneFrame {
  int number = 0;
  ParticleStatePtr particles = std::make_shared<const ParticleState>();  // never null
  StepReportPtr report = std::make_shared<const StepReport>();           // never null
  GasesStatePtr gases = std::make_shared<const GasesState>();            // never null

  // The same states as those of another frame.
  SceneFrame as(int other) const {
    SceneFrame frame = *this;
    frame.number = other;
    return frame;
  }
  std::size_t bytes() const { return particles->bytes() + report->bytes() + gases->bytes(); }
};

using SceneFramePtr = std::shared_ptr<const SceneFrame>;

}  // namespace comet
