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
  return std::clamp(number, spec.min, spec.max);
}

std::shared_ptr<const ParticleFormula> Item::particleFormula(std::string_view param, double frame) const {
  const std::size_t index = kind->indexOf(param);
  const ParamSpec& spec = kind->params()[index];
  const std::string& formula = values[index].formula;
  if (formula.empty() || !spec.isPerParticle || !variesByParticle(formula)) return nullptr;
  return std::make_shared<const ParticleFormula>(formula, frame, clock.seconds(frame), spec.min, spec.max);
}

Vec3d Item::vector(std::string_view param, double frame) const {
  const std::size_t index = kind->indexOf(param);
  const ParamSpec& spec = kind->params()[index];
  return glm::clamp(values[index].vectorAt(frame), spec.min, spec.max);
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

bool Item::meets(const Condition& condition) const {
  const ParamValue& param = value(condition.param);
  const auto isOneOf = [&condition](std::string_view state) {
    return std::find(condition.choices.begin(), condition.choices.end(), state) != condition.choices.end();
  };
  if (const auto* reference = std::get_if<ItemRef>(&param.base))
    return isOneOf(reference->id != 0 ? "named" : "none");
  if (std::holds_alternative<double>(param.base)) return isOneOf(isEverPositive(param) ? "positive" : "zero");
  const bool* isOn = std::get_if<bool>(&param.base);
  if (!isOn) return isOneOf(std::get<std::string>(param.base));
  // One that is keyed counts as on if it ever is.
  const bool everOn = std::any_of(param.keys.begin(), param.keys.end(),
                                  [](const Key& key) { return std::get<bool>(key.value); });
  return isOneOf((param.keys.empty() ? *isOn : everOn) ? "true" : "false");
}

const Condition* Item::unmet(std::size_t index) const {
  for (const Condition& condition : kind->params()[index].conditions) {
    if (const Condition* before = unmet(kind->indexOf(condition.param))) return before;
    if (!meets(condition)) return &condition;
  }
  return nullptr;
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
