#include "simulation/rules/rule_plan.h"

#include "base/random.h"
#include "particles/arrival.h"

#include <algorithm>

namespace comet {
namespace {

std::vector<PlannedClause> planned(const Scene& scene, const std::vector<RuleClause>& clauses,
                                   bool areConditions, double frame) {
  std::vector<PlannedClause> result;
  for (const RuleClause& clause : clauses) {
    PlannedClause ready{clause, {}};
    const bool isRegion = areConditions && ready.when() == RuleWhen::Region;
    if (const Scene::ItemPtr influence = isRegion ? scene.find(clause.item.id) : nullptr)
      ready.region = Reach(*influence, frame);
    result.push_back(std::move(ready));
  }
  return result;
}

void describe(const std::vector<PlannedClause>& clauses, Hasher& hasher) {
  hasher << clauses.size();
  for (const PlannedClause& ready : clauses) {
    const RuleClause& clause = ready.clause;
    hasher << static_cast<int>(clause.form) << clause.first << clause.second << clause.item.id
           << clause.isNot;
    ready.region.describe(hasher);
  }
}

}  // namespace

RulePlan::RulePlan(const Scene& scene, const Item& emitter, std::uint64_t emissionKey, double atFrame)
    : frame(atFrame), frameRate(comet::frameRate(scene)), isFlat(emitter.chooses("launch_space", "2d")) {
  const auto& list = std::get<RuleList>(emitter.value("rules").base);
  for (std::size_t i = 0; i < list.size(); ++i) {
    const Rule& rule = list[i];
    rules.push_back({planned(scene, rule.when, true, frame), planned(scene, rule.then, false, frame),
                     rule.anyOf, rule.chance / 100, rule.chanceEachFrame, rule.max,
                     combineKeys(emissionKey, 1000 + i)});
  }
}

bool RulePlan::asks(RuleWhen when) const {
  return std::any_of(rules.begin(), rules.end(), [when](const PlannedRule& rule) {
    return std::any_of(rule.when.begin(), rule.when.end(),
                       [when](const PlannedClause& clause) { return clause.when() == when; });
  });
}

bool RulePlan::does(RuleThen then) const {
  return std::any_of(rules.begin(), rules.end(), [then](const PlannedRule& rule) {
    return std::any_of(rule.then.begin(), rule.then.end(),
                       [then](const PlannedClause& clause) { return clause.then() == then; });
  });
}

bool RulePlan::givesBirthsTo(ItemId emitter) const {
  return std::any_of(rules.begin(), rules.end(), [emitter](const PlannedRule& rule) {
    return std::any_of(rule.then.begin(), rule.then.end(), [emitter](const PlannedClause& ready) {
      return actionForms()[ready.clause.form].item == RuleItem::Child && ready.clause.item.id == emitter;
    });
  });
}

FieldSet RulePlan::fields() const {
  FieldSet fields;
  if (std::any_of(rules.begin(), rules.end(), [](const PlannedRule& rule) { return rule.max > 0; }))
    fields |= {ParticleStore::RulesFired};
  if (asks(RuleWhen::Arrived)) fields |= arrivalFields();
  if (asks(RuleWhen::Travelled)) fields |= {ParticleStore::Travelled};
  if (asks(RuleWhen::Tag) || does(RuleThen::AddTag) || does(RuleThen::RemoveTag))
    fields |= {ParticleStore::Tags};
  if (does(RuleThen::Freeze) || does(RuleThen::Release)) fields |= {ParticleStore::Still};
  return fields;
}

void RulePlan::describe(Hasher& hasher) const {
  hasher << rules.size();
  if (rules.empty()) return;
  hasher << frame << frameRate << isFlat;
  for (const PlannedRule& rule : rules) {
    comet::describe(rule.when, hasher);
    comet::describe(rule.then, hasher);
    hasher << rule.anyOf << rule.chance << rule.chanceEachFrame << rule.max << rule.randomKey;
  }
}

}  // namespace comet
