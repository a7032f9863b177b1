// What an emitter's rules do to its particles at the end of a step.
//
// Conditions are asked about the particle as it is then, or about the moment in the step when it dies, hits
// something or comes to an age: births that follow happen at that moment, along its way. Rules are asked in
// their order.
#pragma once

#include "particles/neighbour_grid.h"
#include "simulation/emission/child_births.h"
#include "simulation/frame/scene_frame.h"
#include "simulation/rules/rule_plan.h"

#include <map>
#include <memory>
#include <vector>

namespace comet {

// Births that a rule asks for.
struct RuleBirths {
  ItemId emitter = 0;  // whose they are
  Origin origin;
  std::uint64_t count = 0;
};

struct RuleOutcome {
  std::vector<RuleBirths> births;      // in the order of the parents
  std::vector<std::uint64_t> fired;    // how often each rule has
  std::vector<std::size_t> removed{};  // of the particles, those that are no more; ascending
};

struct RuleScene {
  const FrameTime& time;
  const std::vector<SurfaceHit>& hits;  // of the step, by their times
  // Of emitters whose particles rules ask to be near, as the step began.
  const std::map<ItemId, std::shared_ptr<const NeighbourGrid>>& grids;
};

// How often a rule has fired for a particle, of what ParticleStore::RulesFired remembers.
int timesFired(float remembered, std::size_t rule);

// `ways` are those of the step, by identity, and `particles` what is alive at its end. Changes velocities,
// what is remembered, and the ways of those that end.
RuleOutcome applyRules(const RulePlan& plan, const RuleScene& scene, std::vector<ParentPath>& paths,
                       ParticleStore& particles);

}  // namespace comet
