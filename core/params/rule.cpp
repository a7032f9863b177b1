#include "params/rule.h"

#include <cmath>
#include <fmt/format.h>

namespace comet {
namespace {

constexpr double kFar = 1e6;
constexpr std::size_t kMaxClauses = 8;
constexpr RuleField kTagField{"number", "", 1, 1, kMaxTags};

RuleField frames(std::string_view label, double usual) { return {label, "frames", usual, 0, kFar}; }
RuleField percent(std::string_view label, double usual) { return {label, "%", usual, 0, 100}; }
RuleField speed(std::string_view label, double usual) { return {label, "units/s", usual, 0, kFar}; }
RuleField place(std::string_view label, double usual) { return {label, "units", usual, -kFar, kFar}; }

RuleClause newClause(const RuleForm& form, std::uint8_t index) {
  RuleClause clause;
  clause.form = index;
  clause.first = form.first.usual;
  clause.second = form.second.usual;
  return clause;
}

std::string wordsOf(const RuleForm& form, const RuleClause& clause) {
  const bool isWithout = clause.item.name.empty() && !form.withoutItem.empty();
  const std::string name = clause.item.name.empty() ? "(choose one)" : clause.item.name;
  return fmt::format(fmt::runtime(isWithout ? form.withoutItem : form.words), clause.first, clause.second,
                     name);
}

std::string joined(const std::vector<std::string>& parts, const std::string& glue) {
  std::string text;
  for (const std::string& part : parts) text += (text.empty() ? "" : glue) + part;
  return text;
}

std::optional<std::string> fieldProblem(const RuleField& field, double value) {
  if (field.label.empty() || (std::isfinite(value) && value >= field.min && value <= field.max))
    return std::nullopt;
  return fmt::format("has a clause with {} {:g}, which must lie between {:g} and {:g}", field.label, value,
                     field.min, field.max);
}

std::optional<std::string> clausesProblem(const std::vector<RuleClause>& clauses,
                                          const std::vector<RuleForm>& forms) {
  if (clauses.empty()) return "needs at least one condition and one action";
  if (clauses.size() > kMaxClauses) return fmt::format("has more than {} clauses of a kind", kMaxClauses);
  for (const RuleClause& clause : clauses) {
    const RuleForm& form = forms.at(clause.form);
    if (auto problem = fieldProblem(form.first, clause.first)) return problem;
    if (auto problem = fieldProblem(form.second, clause.second)) return problem;
  }
  return std::nullopt;
}

}  // namespace

const std::vector<RuleForm>& conditionForms() {
  static const std::vector<RuleForm> forms{
      {"age", "age between", "its age is between {0:g} and {1:g} frames", frames("from", 24),
       frames("to", 48)},
      {"random_age", "random age between", "its age reaches a random one between {0:g} and {1:g} frames",
       frames("from", 24), frames("to", 48)},
      {"life_fraction", "fraction of life between", "between {0:g} % and {1:g} % of its life have passed",
       percent("from", 50), percent("to", 100)},
      {"death", "death", "it dies"},
      {"hit",
       "hit",
       "it hits {2} faster than {0:g} units/s",
       speed("faster than", 0),
       {},
       RuleItem::Deflector,
       "it hits anything faster than {0:g} units/s"},
      {"region", "inside the reach of", "it is inside the reach of {2}", {}, {}, RuleItem::Region},
      {"speed", "speed between", "its speed is between {0:g} and {1:g} units/s", speed("from", 5),
       speed("to", 1000)},
      {"travelled",
       "distance travelled over",
       "it has travelled more than {0:g} units",
       {"more than", "units", 2, 0, kFar}},
      {"height", "height between", "its height is between {0:g} and {1:g} units", place("from", 2),
       place("to", 1000)},
      {"near",
       "near particles of",
       "it is within {0:g} units of a particle of {2}",
       {"within", "units", 1, 0, kFar},
       {},
       RuleItem::Emitter},
      {"frame",
       "frame between",
       "the frame is between {0:g} and {1:g}",
       {"from", "frame", 24, -kFar, kFar},
       {"to", "frame", 48, -kFar, kFar}},
      {"tag", "tag", "it has tag {0:g}", kTagField},
      {"arrived", "arrived", "it has arrived", {}},
  };
  return forms;
}

const std::vector<RuleForm>& actionForms() {
  static const std::vector<RuleForm> forms{
      {"burst",
       "burst",
       "it gives {0:g} ± {1:g} births of {2}",
       {"count", "", 100, 0, 5e6},
       {"±", "", 0, 0, 5e6},
       RuleItem::Child},
      {"die", "die", "it dies"},
      {"freeze", "freeze", "it freezes"},
      {"release", "release", "it is released"},
      {"move_reset_age",
       "move to emitter, reset age",
       "it moves to {2} and its age is reset",
       {},
       {},
       RuleItem::Child},
      {"move_keep_age",
       "move to emitter, keep age",
       "it moves to {2} and keeps its age",
       {},
       {},
       RuleItem::Child},
      {"kick",
       "kick",
       "it gets a kick of {0:g} units/s along its velocity and {1:g} in a random direction",
       {"along", "units/s", 2, -kFar, kFar},
       {"random", "units/s", 0, 0, kFar}},
      {"add_tag", "add tag", "it gets tag {0:g}", kTagField},
      {"remove_tag", "remove tag", "it loses tag {0:g}", kTagField},
  };
  return forms;
}

RuleClause newCondition(RuleWhen when) {
  const auto index = static_cast<std::uint8_t>(when);
  return newClause(conditionForms()[index], index);
}

RuleClause newAction(RuleThen then) {
  const auto index = static_cast<std::uint8_t>(then);
  return newClause(actionForms()[index], index);
}

RuleClause withForm(const RuleClause& clause, std::uint8_t form, const std::vector<RuleForm>& forms) {
  const RuleForm &before = forms.at(clause.form), &after = forms.at(form);
  const auto isSame = [](const RuleField& a, const RuleField& b) {
    return !a.label.empty() && a.label == b.label && a.unit == b.unit;
  };
  RuleClause changed = newClause(after, form);
  changed.isNot = clause.isNot;
  if (isSame(before.first, after.first)) changed.first = clause.first;
  if (isSame(before.second, after.second)) changed.second = clause.second;
  if (before.item == after.item) changed.item = clause.item;
  return changed;
}

std::string sentenceOf(const Rule& rule) {
  std::vector<std::string> conditions, actions;
  for (const RuleClause& clause : rule.when)
    conditions.push_back((clause.isNot ? "not: " : "") + wordsOf(conditionForms()[clause.form], clause));
  for (const RuleClause& clause : rule.then) actions.push_back(wordsOf(actionForms()[clause.form], clause));
  std::string text = "When " + joined(conditions, rule.anyOf ? " or " : " and ");
  if (rule.chance < 100 || rule.chanceEachFrame)
    text += fmt::format(", with a chance of {:g} % {}", rule.chance,
                        rule.chanceEachFrame ? "in each frame" : "for each particle");
  if (rule.max == 1) text += ", once per particle";
  if (rule.max > 1) text += fmt::format(", up to {} times per particle", rule.max);
  return text + ": " + joined(actions, ", ") + ".";
}

std::optional<std::string> problemWith(const Rule& rule) {
  if (auto problem = clausesProblem(rule.when, conditionForms())) return problem;
  if (auto problem = clausesProblem(rule.then, actionForms())) return problem;
  if (!(rule.chance >= 0 && rule.chance <= 100))
    return fmt::format("has a chance of {:g} %, which must lie between 0 and 100", rule.chance);
  if (rule.max < 0 || rule.max > kMaxTimes)
    return fmt::format("is limited to {} times; 0 to {} can be counted", rule.max, kMaxTimes);
  return std::nullopt;
}

}  // namespace comet
