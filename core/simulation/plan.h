// The plan of a frame: every value that the simulation reads in the step that leads to it, already evaluated.
//
// Two equal plans make equal frames out of equal frames. A plan holds nothing of the scene that does not act:
// no emitter that is off, no influence without response, no looks.
#pragma once

#include "base/digest.h"
#include "particles/particle_state.h"
#include "scene/scene.h"
#include "simulation/acting_influence.h"
#include "simulation/cards/card_rule.h"
#include "simulation/emission/emission.h"
#include "simulation/emission/size.h"
#include "simulation/gas_plan.h"
#include "simulation/loop.h"
#include "simulation/rules/rule_plan.h"
#include "simulation/start_state.h"

#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace comet {

struct EmitterPlan {
  EmissionPlan emission;
  std::vector<ActingInfluence> influences;
  std::optional<BirthSize> size;         // if deflectors or contacts have to know it
  std::shared_ptr<const CardRule> card;  // null if it shows none
  FieldSet fields;                       // what is asked for beside those that every particle has
  RulePlan rules;
  std::vector<ItemId> sources;  // that its births come from, directly or by their rules
  bool isSource = false;        // whether ways of its particles have to be known
};

struct FramePlan {
  int frame = 0;  // that the step leads to; its time is that of a loop's round
  FrameTime time;
  std::optional<std::uint64_t> round;  // that begins with this step, where births are counted anew
  std::optional<StartState> start;     // the first frame of a scene with a start state has this one
  int substeps = 1;
  int parts = 1;  // of a substep, for particles that touch others
  std::uint64_t maxParticles = 0;
  std::vector<EmitterPlan> emitters;
  std::vector<std::size_t> order;  // of the emitters, sources before those whose births come from them
  std::vector<GasPlan> gases;
  Digest digest;

  // The index of an emitter's plan; nothing if it is off, or not of the scene.
  std::optional<std::size_t> indexOf(std::uint32_t emitter) const;
};

// An influence as it acts in a step of so many substeps; null if it is off or outside of its window.
std::shared_ptr<const PlannedInfluence> planInfluence(const Item& influence, const FrameTime& time,
                                                      int substeps = 1, const Progress& progress = {});

// The plan after its influences have seen the frame as it is when the step begins.
FramePlan seeing(const SceneFrame& frame, FramePlan plan, const Progress& progress = {});

// The first frame that is simulated: before the scene's first one if the scene warms up.
int firstSimulatedFrame(const Scene& scene);

// `clock` is the scene's. Throws Error(Input) if the frame lies before the first simulated one, or if the
// scene's start state is damaged, and Error(Cancelled).
FramePlan planFrame(const Scene& scene, const StepClock& clock, int frame, const Progress& progress = {});
inline FramePlan planFrame(const Scene& scene, int frame) {
  return planFrame(scene, StepClock(scene), frame);
}

}  // namespace comet
