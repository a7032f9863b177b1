#include "scene/item.h"

#include "params/formula.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>

namespace comet {

double Item::number(std::string_view param, double frame) const {
  const std::size_t index = kind->indexOf(param);
  const ParamSpec& spec = kind->params()[index];
  const ParamValue& value = values[index];
  double number = value.numberAt(frame);
  if (!value.formula.empty() && !(spec.isPerParticle && variesByParticle(value.formula))) {
    const double computed = evaluateFormula(value.formula, {frame, clock.seconds(frame), number});
    if (std::isfinite(computed)) number = computed;
  }
  return std::clamp(number, spec.least, spec.most);
}

std::shared_ptr<const ParticleFormula> Item::particleFormula(std::string_view param, double frame) const {
  const std::size_t index = kind->indexOf(param);
  const ParamSpec& spec = kind->params()[index];
  const std::string& formula = values[index].formula;
  if (formula.empty() || !spec.isPerParticle || !variesByParticle(formula)) return nullptr;
  return std::make_shared<const ParticleFormula>(formula, frame, clock.seconds(frame), spec.least, spec.most);
}

Vec3d Item::vector(std::string_view param, double frame) const {
  const std::size_t index = kind->indexOf(param);
  const ParamSpec& spec = kind->params()[index];
  return glm::clamp(values[index].vectorAt(frame), spec.least, spec.most);
}

namespace {

bool isEverPositive(const ParamValue& number) {
  const bool byKeys = std::any_of(number.keys.begin(), number.keys.end(),
                                  [](const Key& key) { return std::get<double>(key.value) > 0; });
  return number.variation > 0 || !number.formula.empty() ||
         (number.keys.empty() ? std::get<double>(number.base) > 0 : byKeys);
}

}  // namespace

std::string Item::axes(std::size_t index) const {
  for (const UsedAxes& used : kind->params()[index].usedAxes)
    if (chooses(used.param, used.choice)) return used.axes;
  return "xyz";
}

bool Item::applies(std::size_t index) const {
  const auto& conditions = kind->params()[index].conditions;
  return std::all_of(conditions.begin(), conditions.end(), [this](const Condition& condition) {
    const std::size_t other = kind->indexOf(condition.param);
    if (!applies(other)) return false;
    const Value& value = values[other].base;
    const KeyTrack& keys = values[other].keys;
    if (const auto* reference = std::get_if<ItemRef>(&value))
      return std::find(condition.choices.begin(), condition.choices.end(),
                       reference->id != 0 ? "named" : "none") != condition.choices.end();
    if (std::holds_alternative<double>(value))
      return std::find(condition.choices.begin(), condition.choices.end(),
                       isEverPositive(values[other]) ? "positive" : "zero") != condition.choices.end();
    const bool* isOn = std::get_if<bool>(&value);
    // One that is keyed counts as on if it ever is.
    const bool everOn = isOn && std::any_of(keys.begin(), keys.end(),
                                            [](const Key& key) { return std::get<bool>(key.value); });
    const std::string chosen =
        isOn ? ((keys.empty() ? *isOn : everOn) ? "true" : "false") : std::get<std::string>(value);
    return std::find(condition.choices.begin(), condition.choices.end(), chosen) != condition.choices.end();
  });
}

Item newItem(const KindSpec& kind, std::string name) {
  Item item;
  item.kind = &kind;
  item.name = std::move(name);
  item.values.reserve(kind.params().size());
  for (const ParamSpec& spec : kind.params()) item.values.push_back(spec.defaultValue);
  return item;
}

std::string problemWithName(std::string_view name) {
  constexpr std::ptrdiff_t kLongestName = 64;
  if (name.empty()) return "a name needs at least one character";
  const auto isNoContinuation = [](char c) { return (static_cast<unsigned char>(c) & 0xC0) != 0x80; };
  if (std::count_if(name.begin(), name.end(), isNoContinuation) > kLongestName)
    return "a name may have at most 64 characters";
  if (name.front() == ' ' || name.back() == ' ') return "a name may not begin or end with a space";
  for (const char c : name)
    if (c == '.' || c == '=' || c == '/' || static_cast<unsigned char>(c) < 0x20)
      return "a name may not contain '.', '=', '/' or control characters";
  return {};
}

}  // namespace comet
