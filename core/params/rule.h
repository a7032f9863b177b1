// Rules of an emitter: when something is so with a particle, then something is done with it.
//
// A rule is plain data. What its clauses can be, and which fields they have, is in two tables, from which
// sentences, files, checks and editors are made.
#pragma once

#include "params/item_ref.h"

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace comet {

// What a clause may be about, in the order of conditionForms().
enum class RuleWhen : std::uint8_t {
  Age,           // frames
  RandomAge,     // one moment of its age, drawn at random between two, frames
  LifeFraction,  // percent
  Death,
  Hit,     // on a deflector, or any; at least so fast, units per second
  Region,  // in the reach of an influence
  Speed,   // units per second
  Travelled,
  Height,
  Near,   // units, particles of another emitter
  Frame,  // of the scene
  Tag,
  Arrived,  // at the point that an influence has brought it to
};

// What may be done, in the order of actionForms().
enum class RuleThen : std::uint8_t {
  Burst,  // births of a child emitter
  Die,
  Freeze,  // in place
  Release,
  MoveResetAge,  // to another emitter, with its age reset
  MoveKeepAge,   // the same, with its age kept
  Kick,          // along its motion, and any way; units per second
  AddTag,
  RemoveTag,
};

struct RuleField {
  std::string_view label, unit;  // no label: there is no such field
  double usual = 0;              // what a new clause has
  double min = 0, max = 0;
};

enum class RuleItem { None, Deflector, Region, Emitter, Child };

// What a clause of one kind is like.
struct RuleForm {
  std::string_view id, label;
  // The clause in words: {0} and {1} are its fields, {2} is its item.
  std::string_view words;
  RuleField first{}, second{};
  RuleItem item = RuleItem::None;
  std::string_view withoutItem{};  // the words if it names none, where it need not
};

const std::vector<RuleForm>& conditionForms();
const std::vector<RuleForm>& actionForms();

// A condition or an action: the index of its form, and what that asks for.
struct RuleClause {
  std::uint8_t form = 0;
  double first = 0, second = 0;
  ItemRef item{};
  bool isNot = false;  // of conditions: the opposite

  bool operator==(const RuleClause&) const = default;
};

struct Rule {
  std::vector<RuleClause> when;
  bool anyOf = false;            // one of the conditions is enough
  double chance = 100;           // percent
  bool chanceEachFrame = false;  // drawn in each frame anew, and not once for each particle
  int max = 1;                   // how often for each particle; 0 for any number
  std::vector<RuleClause> then;

  bool operator==(const Rule&) const = default;
};

using RuleList = std::vector<Rule>;

// How many rules an emitter may have, how often one can be limited to, and how many tags there are: a
// particle remembers this in two numbers.
constexpr std::size_t kMaxRules = 8;
constexpr int kMaxTimes = 7;
constexpr int kMaxTags = 16;

// A clause of a form with its usual fields.
RuleClause newCondition(RuleWhen when);
RuleClause newAction(RuleThen then);
// The clause as one of another form of the same table, with all that means the same in both: fields of the
// same unit and label, the item if both name one of the same kind, and whether it is negated.
RuleClause withForm(const RuleClause& clause, std::uint8_t form, const std::vector<RuleForm>& forms);

// The rule as a sentence.
std::string sentenceOf(const Rule& rule);
// Why this cannot be a rule; nothing if it can.
std::optional<std::string> problemWith(const Rule& rule);

}  // namespace comet
