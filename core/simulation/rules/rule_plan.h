// An emitter's rules, evaluated for a frame.
#pragma once

#include "base/digest.h"
#include "params/rule.h"
#include "particles/particle_store.h"
#include "scene/scene.h"
#include "simulation/influences/reach.h"

#include <vector>

namespace comet {

// A clause with what it names made ready.
struct PlannedClause {
  RuleClause clause;
  Reach region;  // of RuleWhen::Region

  RuleWhen when() const { return static_cast<RuleWhen>(clause.form); }
  RuleThen then() const { return static_cast<RuleThen>(clause.form); }
};

struct PlannedRule {
  std::vector<PlannedClause> when, then;
  bool anyOf = false;
  double chance = 1;  // share
  bool chanceEachFrame = false;
  int max = 0;
  std::uint64_t randomKey = 0;
};

struct RulePlan {
  RulePlan() = default;
  RulePlan(const Scene& scene, const Item& emitter, std::uint64_t emissionKey, double frame);

  std::vector<PlannedRule> rules;
  double frame = 0;      // of the scene, at the step's end
  double frameRate = 1;  // frames per second
  bool isFlat = false;   // its particles keep their depth

  bool empty() const { return rules.empty(); }
  bool asks(RuleWhen when) const;
  bool does(RuleThen then) const;
  // Whether an emitter is given births.
  bool givesBirthsTo(ItemId emitter) const;
  // What has to be remembered of each particle.
  FieldSet fields() const;
  void describe(Hasher& hasher) const;
};

}  // namespace comet
