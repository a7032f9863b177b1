#include "scene/rule_json.h"

#include "base/error.h"
#include "scene/scene_file.h"

#include <algorithm>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace comet {
namespace {

using nlohmann::json;
using nlohmann::ordered_json;

constexpr std::array<std::string_view, 2> kJoins{"and", "or"};
constexpr std::array<std::string_view, 2> kDraws{"once", "each_frame"};

const json& listIn(const json& object, const char* field, const std::string& place) {
  const auto found = object.find(field);
  if (found == object.end() || !found->is_array())
    refuseInput(place + "/" + field, "must be a list, and is needed");
  return *found;
}

double numberIn(const json& object, const char* field, double fallback, const std::string& place) {
  const auto found = object.find(field);
  if (found == object.end()) return fallback;
  if (!found->is_number()) refuseInput(place + "/" + field, "must be a number");
  return found->get<double>();
}

std::string textIn(const json& object, const char* field, const std::string& fallback,
                   const std::string& place) {
  const auto found = object.find(field);
  if (found == object.end()) return fallback;
  if (!found->is_string()) refuseInput(place + "/" + field, "must be a text");
  return found->get<std::string>();
}

// Whether a field says the second of two words.
bool isSecond(const json& object, const char* field, const std::array<std::string_view, 2>& words,
              const std::string& place) {
  const std::string text = textIn(object, field, std::string(words[0]), place);
  const auto found = std::find(words.begin(), words.end(), text);
  if (found == words.end())
    refuseInput(place + "/" + field, fmt::format("must be \"{}\" or \"{}\"", words[0], words[1]));
  return found != words.begin();
}

RuleClause clauseFrom(const json& value, const char* kindField, const std::vector<RuleForm>& forms,
                      const std::string& place) {
  if (!value.is_object()) refuseInput(place, "must be an object");
  const std::string id = textIn(value, kindField, "", place);
  const auto form =
      std::find_if(forms.begin(), forms.end(), [&id](const RuleForm& known) { return known.id == id; });
  if (form == forms.end()) {
    std::string known;
    for (const RuleForm& one : forms) known += (known.empty() ? "" : ", ") + std::string(one.id);
    refuseInput(place + "/" + kindField, fmt::format("is \"{}\", but must be one of: {}", id, known));
  }
  RuleClause clause;
  clause.form = static_cast<std::uint8_t>(form - forms.begin());
  clause.first = numberIn(value, "first", form->first.usual, place);
  clause.second = numberIn(value, "second", form->second.usual, place);
  clause.item.name = textIn(value, "item", "", place);
  if (const auto isNot = value.find("not"); isNot != value.end()) {
    if (!isNot->is_boolean()) refuseInput(place + "/not", "must be true or false");
    clause.isNot = isNot->get<bool>();
  }
  return clause;
}

std::vector<RuleClause> clausesFrom(const json& list, const char* kindField,
                                    const std::vector<RuleForm>& forms, const std::string& place) {
  std::vector<RuleClause> clauses;
  for (std::size_t i = 0; i < list.size(); ++i)
    clauses.push_back(clauseFrom(list[i], kindField, forms, fmt::format("{}/{}", place, i)));
  return clauses;
}

Rule ruleFrom(const json& value, const std::string& place) {
  if (!value.is_object()) refuseInput(place, "must be an object");
  Rule rule;
  rule.when = clausesFrom(listIn(value, "when", place), "if", conditionForms(), place + "/when");
  rule.then = clausesFrom(listIn(value, "then", place), "do", actionForms(), place + "/then");
  rule.anyOf = isSecond(value, "joined", kJoins, place);
  rule.chance = numberIn(value, "chance", rule.chance, place);
  rule.chanceEachFrame = isSecond(value, "chance_drawn", kDraws, place);
  const double max = numberIn(value, "max_times", rule.max, place);
  rule.max = max >= 0 && max <= kMaxTimes ? static_cast<int>(max) : -1;
  return rule;
}

json jsonFrom(const RuleClause& clause, const char* kindField, const RuleForm& form) {
  json object = {{kindField, form.id}};
  if (!form.first.label.empty()) object["first"] = clause.first;
  if (!form.second.label.empty()) object["second"] = clause.second;
  if (!clause.item.name.empty()) object["item"] = clause.item.name;
  if (clause.isNot) object["not"] = true;
  return object;
}

ordered_json clauseSchema(const char* kindField, const std::vector<RuleForm>& forms) {
  ordered_json ids = ordered_json::array();
  for (const RuleForm& form : forms) ids.push_back(form.id);
  return {{"type", "array"},
          {"minItems", 1},
          {"items",
           {{"type", "object"},
            {"required", {kindField}},
            {"properties",
             {{kindField, {{"enum", ids}}},
              {"first", {{"type", "number"}}},
              {"second", {{"type", "number"}}},
              {"item", {{"type", "string"}}},
              {"not", {{"type", "boolean"}}}}}}}};
}

}  // namespace

RuleList rulesFromJson(const json& value, const std::string& place) {
  if (!value.is_array()) refuseInput(place, "must be a list");
  RuleList rules;
  for (std::size_t i = 0; i < value.size(); ++i)
    rules.push_back(ruleFrom(value[i], fmt::format("{}/{}", place, i)));
  return rules;
}

json jsonFromRules(const RuleList& rules) {
  json list = json::array();
  for (const Rule& rule : rules) {
    json object = {{"when", json::array()}, {"then", json::array()}, {"max_times", rule.max}};
    for (const RuleClause& clause : rule.when)
      object["when"].push_back(jsonFrom(clause, "if", conditionForms()[clause.form]));
    for (const RuleClause& clause : rule.then)
      object["then"].push_back(jsonFrom(clause, "do", actionForms()[clause.form]));
    if (rule.anyOf) object["joined"] = "or";
    if (rule.chance != 100) object["chance"] = rule.chance;
    if (rule.chanceEachFrame) object["chance_drawn"] = "each_frame";
    list.push_back(std::move(object));
  }
  return list;
}

ordered_json rulesSchema() {
  return {{"type", "array"},
          {"maxItems", kMaxRules},
          {"items",
           {{"type", "object"},
            {"required", {"when", "then"}},
            {"properties",
             {{"when", clauseSchema("if", conditionForms())},
              {"joined", {{"enum", kJoins}}},
              {"chance", {{"type", "number"}, {"minimum", 0}, {"maximum", 100}}},
              {"chance_drawn", {{"enum", kDraws}}},
              {"max_times", {{"type", "integer"}, {"minimum", 0}, {"maximum", kMaxTimes}}},
              {"then", clauseSchema("do", actionForms())}}}}}};
}

}  // namespace comet
