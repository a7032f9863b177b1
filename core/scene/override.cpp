#include "scene/override.h"

#include "base/error.h"
#include "scene/item_reference.h"
#include "scene/scene_file.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace comet {
namespace {

using nlohmann::json;

std::string withReplaced(std::string text, const std::string& from, const std::string& to) {
  if (const auto at = text.find(from); at != std::string::npos) text.replace(at, from.size(), to);
  return text;
}

// The JSON that a short text stands for.
json jsonFromShortText(const ParamSpec& spec, const std::string& text) {
  if (spec.type == ParamType::Choice || spec.type == ParamType::Text || spec.type == ParamType::File ||
      spec.type == ParamType::Item)
    return text;
  const bool isTriple = spec.type == ParamType::Vector || spec.type == ParamType::Color;
  if (isTriple && text.find('[') == std::string::npos && text.find('{') == std::string::npos)
    return json::parse("[" + text + "]", nullptr, false);
  const std::string plain = withReplaced(text, "±", "+-");
  if (const auto at = plain.find("+-"); at != std::string::npos)
    return {{"value", json::parse(plain.substr(0, at), nullptr, false)},
            {"variation", json::parse(plain.substr(at + 2), nullptr, false)}};
  return json::parse(text, nullptr, false);
}

}  // namespace

ParamValue paramFromText(const ParamSpec& spec, const ParamValue& current, const std::string& text) {
  const json value = jsonFromShortText(spec, text);
  const auto isBroken = [](const json& part) { return part.is_discarded(); };
  if (isBroken(value) ||
      (value.is_object() && ((value.contains("value") && isBroken(value["value"])) ||
                             (value.contains("variation") && isBroken(value["variation"])))))
    throw Error(ErrorKind::Input, "", fmt::format("\"{}\" is not a {}", text, toString(spec.type)));
  ParamValue result = paramFromJson(spec, value, "");
  const bool saysOverAge = value.is_object() && value.contains("over_age");
  if (!saysOverAge) result.overAge = current.overAge;
  return result;
}

Scene withOverride(const Scene& scene, const std::string& assignment) {
  const auto equals = assignment.find('=');
  const auto dot = assignment.substr(0, equals).rfind('.');
  if (equals == std::string::npos || dot == std::string::npos)
    throw Error(ErrorKind::Usage, "--set " + assignment, "is not of the form ITEM.PARAM=VALUE");
  const std::string itemName = assignment.substr(0, dot);
  const std::string param = assignment.substr(dot + 1, equals - dot - 1);

  const Scene::ItemPtr item = scene.findByName(itemName);
  if (!item) {
    std::string names;
    for (const Scene::ItemPtr& other : scene.items()) names += (names.empty() ? "" : ", ") + other->name;
    throw Error(ErrorKind::Usage, "--set " + assignment, fmt::format("there is no item \"{}\"", itemName),
                "The scene has: " + names);
  }
  const auto index = item->kind->find(param);
  if (!index)
    throw Error(ErrorKind::Usage, "--set " + assignment,
                fmt::format("{} has no parameter \"{}\"", item->kind->label(), param),
                "comet schema lists the parameters of each kind");
  try {
    const ParamSpec& spec = item->kind->params()[*index];
    Scene changed = scene.withParam(item->id, param,
                                    paramFromText(spec, item->values[*index], assignment.substr(equals + 1)));
    if (const auto problem = problemWithReference(changed, *changed.find(item->id), *index))
      throw Error(ErrorKind::Input, "", *problem);
    return changed;
  } catch (const Error& error) {
    throw Error(ErrorKind::Usage, "--set " + assignment, error.problem(), error.remedy());
  }
}

}  // namespace comet
