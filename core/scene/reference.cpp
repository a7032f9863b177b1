#include "scene/reference.h"

#include "scene/rule_json.h"
#include "scene/scene_file.h"
#include "scene/snapshot.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace comet {
namespace {

using nlohmann::ordered_json;

bool isNumeric(const ParamSpec& spec) {
  return spec.type == ParamType::Number || spec.type == ParamType::Integer ||
         spec.type == ParamType::Vector || spec.type == ParamType::Color;
}

ordered_json paramJson(const ParamSpec& spec) {
  ordered_json entry = {{"id", spec.id},
                        {"label", spec.label},
                        {"type", toString(spec.type)},
                        {"section", spec.section},
                        {"tip", spec.tipText},
                        {"default", jsonFromParam(spec, spec.defaultValue)},
                        {"affects", toString(spec.affectedPart)}};
  if (!spec.unitText.empty()) entry["unit"] = spec.unitText;
  if (isNumeric(spec)) {
    entry["least"] = spec.min;
    entry["most"] = spec.max;
    entry["usual"] = {spec.usualMin, spec.usualMax};
  }
  if (spec.canBeKeyed) entry["keyed"] = true;
  if (spec.canVary) entry["variation"] = true;
  if (spec.mapsOverAge) entry["over_age"] = true;
  if (spec.isPerParticle) entry["formula_per_particle"] = true;
  if (spec.choosesInput) entry["follows"] = {"age", "speed", "random", "arrival"};
  for (const ChoiceOption& option : spec.choices)
    entry["choices"].push_back({{"id", option.id}, {"label", option.label}, {"tip", option.tip}});
  for (const Condition& condition : spec.conditions)
    entry["applies_when"].push_back({{"param", condition.param}, {"choices", condition.choices}});
  return entry;
}

std::string abilities(const ParamSpec& spec) {
  std::string text;
  const auto add = [&text](bool has, const char* word) {
    if (has) text += (text.empty() ? "" : ", ") + std::string(word);
  };
  add(spec.canBeKeyed, "keys");
  add(spec.canVary, "±");
  add(spec.mapsOverAge, "over age");
  add(spec.choosesInput, "over speed, random, over arrival");
  add(spec.isPerParticle, "formula per particle");
  return text;
}

std::string rangeText(const ParamSpec& spec) {
  if (spec.type == ParamType::Choice) {
    std::string text;
    for (const ChoiceOption& option : spec.choices)
      text += fmt::format("{}`{}`", text.empty() ? "" : ", ", option.id);
    return text;
  }
  if (!isNumeric(spec)) return "";
  return fmt::format("{:g} to {:g}{}{}", spec.min, spec.max, spec.unitText.empty() ? "" : " ", spec.unitText);
}

// Whether the default value fits a cell of a table.
bool hasShortDefault(const ParamSpec& spec) {
  return isNumeric(spec) || spec.type == ParamType::Flag || spec.type == ParamType::Choice;
}

ordered_json definition(const char* name) { return {{"$ref", fmt::format("#/$defs/{}", name)}}; }

ordered_json constantSchema(const ParamSpec& spec) {
  switch (spec.type) {
    case ParamType::Number:
      return {{"type", "number"}, {"minimum", spec.min}, {"maximum", spec.max}};
    case ParamType::Integer:
      return {{"type", "integer"}, {"minimum", spec.min}, {"maximum", spec.max}};
    case ParamType::Flag:
      return {{"type", "boolean"}};
    case ParamType::Choice: {
      ordered_json ids = ordered_json::array();
      for (const ChoiceOption& option : spec.choices) ids.push_back(option.id);
      return {{"enum", ids}};
    }
    case ParamType::Vector:
    case ParamType::Color:
      return {{"type", "array"},
              {"items", {{"type", "number"}, {"minimum", spec.min}, {"maximum", spec.max}}},
              {"minItems", 3},
              {"maxItems", 3}};
    case ParamType::Gradient:
      return definition("gradient");
    case ParamType::Bursts:
      return definition("bursts");
    case ParamType::Curve:
      return definition("curve");
    case ParamType::Outline:
      return definition("outline");
    case ParamType::Strokes:
      return {{"type", "array"}, {"items", definition("stroke")}};
    case ParamType::Markers:
      return {{"type", "array"}, {"items", definition("marker")}};
    case ParamType::Rules:
      return rulesSchema();
    case ParamType::Text:
    case ParamType::File:
    case ParamType::Data:
    case ParamType::Item:
      return {{"type", "string"}};
  }
  return {};
}

// One handle for each number of a key's value.
ordered_json keyHandles(const ParamSpec& spec) {
  if (componentsOf(spec.defaultValue.base) == 1) return definition("handle");
  return {{"type", "array"}, {"items", definition("handle")}, {"minItems", 3}, {"maxItems", 3}};
}

ordered_json paramSchema(const ParamSpec& spec) {
  const ordered_json constant = constantSchema(spec);
  ordered_json properties = {{"value", constant}};
  if (spec.canVary) properties["variation"] = {{"type", "number"}, {"minimum", 0}};
  if (spec.mapsOverAge) properties["over_age"] = definition("curve");
  if (spec.choosesInput) {
    properties["follows"] = {{"enum", {"age", "speed", "random", "arrival"}}};
    properties["fastest"] = {{"type", "number"}, {"exclusiveMinimum", 0}};
  }
  if (spec.takesFormula()) properties["formula"] = {{"type", "string"}};
  if (spec.canBeKeyed)
    properties["keys"] = {{"type", "array"},
                          {"items",
                           {{"type", "object"},
                            {"required", {"frame", "value"}},
                            {"properties",
                             {{"frame", {{"type", "number"}}},
                              {"value", constant},
                              {"to_next", definition("interpolation")},
                              {"handle_before", keyHandles(spec)},
                              {"handle_after", keyHandles(spec)}}}}}};
  return {{"description", spec.tipText},
          {"anyOf",
           {constant, {{"type", "object"}, {"properties", properties}, {"additionalProperties", false}}}}};
}

ordered_json sharedDefinitions() {
  const ordered_json number = {{"type", "number"}};
  return {
      {"interpolation", {{"enum", {"linear", "smooth", "hold", "bezier"}}}},
      {"handle", {{"type", "array"}, {"items", number}, {"minItems", 2}, {"maxItems", 2}}},
      {"curve",
       {{"type", "array"},
        {"minItems", 1},
        {"items",
         {{"type", "object"},
          {"properties",
           {{"at", {{"type", "number"}, {"minimum", 0}, {"maximum", 1}}},
            {"value", {{"type", "number"}, {"minimum", 0}}},
            {"to_next", definition("interpolation")},
            {"handle_before", definition("handle")},
            {"handle_after", definition("handle")}}}}}}},
      {"outline",
       {{"type", "array"},
        {"items",
         {{"type", "object"},
          {"required", {"x", "y"}},
          {"properties", {{"x", number}, {"y", number}, {"smooth", {{"type", "boolean"}}}}}}}}},
      {"stroke",
       {{"type", "array"},
        {"minItems", kFewestStrokePoints},
        {"items", {{"type", "array"}, {"items", number}, {"minItems", 3}, {"maxItems", 3}}}}},
      {"marker", {{"type", "object"}, {"properties", {{"frame", number}, {"note", {{"type", "string"}}}}}}},
      {"gradient",
       {{"type", "array"},
        {"minItems", 1},
        {"items",
         {{"type", "object"},
          {"required", {"color"}},
          {"properties",
           {{"at", {{"type", "number"}, {"minimum", 0}, {"maximum", 1}}},
            {"color", {{"type", "array"}, {"items", number}, {"minItems", 3}, {"maxItems", 3}}}}}}}}},
      {"bursts",
       {{"type", "array"},
        {"items",
         {{"type", "object"},
          {"properties",
           {{"frame", number},
            {"count", {{"type", "number"}, {"minimum", 0}}},
            {"variation", {{"type", "number"}, {"minimum", 0}}},
            {"duration", {{"type", "number"}, {"minimum", 0}}},
            {"every", {{"type", "number"}, {"minimum", 0}}},
            {"times", {{"type", "integer"}, {"minimum", 1}}}}}}}}},
  };
}

ordered_json itemSchema(const KindSpec& kind) {
  ordered_json params = ordered_json::object();
  for (const ParamSpec& spec : kind.params()) params[spec.id] = paramSchema(spec);
  return {{"if", {{"properties", {{"kind", {{"const", kind.id()}}}}}}},
          {"then", {{"properties", {{"params", {{"type", "object"}, {"properties", params}}}}}}}};
}

}  // namespace

ordered_json referenceJson(const Catalog& catalog) {
  ordered_json kinds = ordered_json::array();
  for (const KindSpec* kind : catalog.kinds()) {
    ordered_json params = ordered_json::array();
    for (const ParamSpec& spec : kind->params()) params.push_back(paramJson(spec));
    kinds.push_back({{"id", kind->id()},
                     {"label", kind->label()},
                     {"family", toString(kind->family())},
                     {"tip", kind->tip()},
                     {"params", params}});
  }
  return {{"version", kSceneVersion}, {"kinds", kinds}};
}

std::string referenceMarkdown(const Catalog& catalog) {
  std::string page =
      "# Parameters\n\nMade from the program's own tables by `comet schema --markdown`; do not edit.\n\n"
      "*Can* says whether a parameter can be keyed over time, have a variation (±), or be mapped over a "
      "particle's "
      "age. *Changes* says what is made again after an edit.\n";
  for (const KindSpec* kind : catalog.kinds()) {
    page += fmt::format("\n## {} (`{}`)\n\n{}\n\n", kind->label(), kind->id(), kind->tip());
    page +=
        "| Parameter | Id | Values | Default | Can | Changes | What it does "
        "|\n|---|---|---|---|---|---|---|\n";
    for (const ParamSpec& spec : kind->params()) {
      std::string what = spec.tipText;
      for (const ChoiceOption& option : spec.choices)
        what += fmt::format(" *{}*: {}", option.label, option.tip);
      page += fmt::format("| {} | `{}` | {} | {} | {} | {} | {} |\n", spec.label, spec.id, rangeText(spec),
                          hasShortDefault(spec) ? jsonFromParam(spec, spec.defaultValue).dump() : "",
                          abilities(spec), toString(spec.affectedPart), what);
    }
  }
  return page;
}

ordered_json sceneJsonSchema(const Catalog& catalog) {
  ordered_json kinds = ordered_json::array(), perKind = ordered_json::array();
  for (const KindSpec* kind : catalog.kinds()) {
    kinds.push_back(kind->id());
    perKind.push_back(itemSchema(*kind));
  }
  const ordered_json item = {{"type", "object"},
                             {"required", {"kind"}},
                             {"properties",
                              {{"kind", {{"enum", kinds}}},
                               {"name", {{"type", "string"}, {"pattern", "^[^.=/]{1,64}$"}}},
                               {"id", {{"type", "integer"}, {"minimum", 1}, {"maximum", 16777215}}},
                               {"enabled", {{"type", "boolean"}}}}},
                             {"allOf", perKind}};
  const ordered_json percent = {
      {"type", {"number", "null"}}, {"minimum", -kLargestResponse}, {"maximum", kLargestResponse}};
  const ordered_json response = {
      {"anyOf",
       {percent,
        {{"type", "object"},
         {"properties",
          {{"percent", percent}, {"over_age", definition("curve")}, {"formula", {{"type", "string"}}}}},
         {"additionalProperties", false}}}}};
  const ordered_json items = {{"type", "array"}, {"items", definition("item")}};
  const ordered_json responses = {
      {"type", "object"}, {"additionalProperties", {{"type", "object"}, {"additionalProperties", response}}}};
  const ordered_json snapshot = {
      {"type", "object"},
      {"required", {"name"}},
      {"properties",
       {{"name", {{"type", "string"}, {"minLength", 1}, {"maxLength", kMaxSnapshotName}}},
        {"picture", {{"type", "string"}, {"contentEncoding", "base64"}, {"contentMediaType", "image/png"}}},
        {"items", items},
        {"responses", definition("responses")}}}};
  ordered_json definitions = sharedDefinitions();
  definitions["item"] = item;
  definitions["responses"] = responses;
  return {{"$schema", "https://json-schema.org/draft/2020-12/schema"},
          {"title", "Scene of Tawny Comet"},
          {"type", "object"},
          {"required", {"format", "version"}},
          {"properties",
           {{"format", {{"const", "tawny-comet-scene"}}},
            {"version", {{"const", kSceneVersion}}},
            {"items", items},
            {"responses", definition("responses")},
            {"snapshots", {{"type", "array"}, {"maxItems", kMaxSnapshots}, {"items", snapshot}}}}},
          {"$defs", definitions}};
}

}  // namespace comet
