#include "params/schema.h"

#include "params/formula.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>
#include <fmt/format.h>
#include <stdexcept>

namespace comet {
namespace {

constexpr std::array<std::string_view, 17> kTypeNames{
    "number", "integer", "flag", "choice", "vector",  "color",   "gradient", "bursts", "text",
    "curve",  "outline", "file", "data",   "strokes", "markers", "item",     "rules"};
constexpr std::array<std::string_view, 4> kAffectsNames{"simulation", "look", "bake", "view"};
constexpr std::array<std::string_view, 8> kFamilyNames{"settings", "camera", "light",     "emitter",
                                                       "gas",      "source", "influence", "bake"};

// Colours may glow far above white, but not so far that sums of them leave the range of floats.
constexpr double kBrightestColor = 1e4;
constexpr std::size_t kMaxBursts = 1000;
constexpr double kMaxBurstCount = 5e6;
constexpr double kMaxFrame = 1e6;
constexpr double kHighestCurve = 1e4;
constexpr std::size_t kMaxOutlinePoints = 500;
constexpr std::size_t kMaxMarkers = 1000;
constexpr std::size_t kMaxStrokes = 1000;
constexpr std::size_t kMaxStrokePoints = 20000;  // in all
constexpr std::size_t kLongestText = 4096;
constexpr double kMinFastest = 1e-6;

ParamSpec spec(std::string id, std::string label, ParamType type, Value value) {
  ParamSpec result;
  result.id = std::move(id);
  result.label = std::move(label);
  result.type = type;
  result.defaultValue.base = std::move(value);
  return result;
}

std::optional<std::string> numberProblem(const ParamSpec& spec, double number) {
  if (!std::isfinite(number)) return "is not a finite number";
  if (number < spec.min || number > spec.max)
    return fmt::format("is {:g}, but must lie between {:g} and {:g}", number, spec.min, spec.max);
  if (spec.type == ParamType::Integer && number != std::floor(number))
    return fmt::format("is {:g}, but must be a whole number", number);
  return std::nullopt;
}

std::optional<std::string> rangeProblem(const char* what, double number, double min, double max) {
  if (std::isfinite(number) && number >= min && number <= max) return std::nullopt;
  return fmt::format("has a {} of {:g}, but it must lie between {:g} and {:g}", what, number, min, max);
}

std::optional<std::string> burstProblem(const Burst& burst) {
  if (auto problem = rangeProblem("frame", burst.frame, -kMaxFrame, kMaxFrame)) return problem;
  if (auto problem = rangeProblem("count", burst.count, 0, kMaxBurstCount)) return problem;
  if (auto problem = rangeProblem("variation", burst.variation, 0, kMaxBurstCount)) return problem;
  if (auto problem = rangeProblem("duration", burst.duration, 0, kMaxFrame)) return problem;
  if (auto problem = rangeProblem("repeat interval", burst.every, 0, kMaxFrame)) return problem;
  return rangeProblem("number of times", burst.times, 1, kMaxFrame);
}

std::optional<std::string> gradientProblem(const Gradient& gradient) {
  for (const GradientStop& stop : gradient.stops()) {
    if (auto problem = rangeProblem("stop position", stop.position, 0, 1)) return problem;
    for (int channel = 0; channel < 3; ++channel)
      if (auto problem = rangeProblem("stop colour", stop.color[channel], 0, kBrightestColor)) return problem;
  }
  return std::nullopt;
}

std::optional<std::string> outlineProblem(const OutlinePoints& outline) {
  if (outline.empty()) return std::nullopt;
  if (outline.size() < kFewestOutlinePoints)
    return fmt::format("is an outline of {} points, but needs at least {}, or none", outline.size(),
                       kFewestOutlinePoints);
  if (outline.size() > kMaxOutlinePoints) return fmt::format("has more than {} points", kMaxOutlinePoints);
  for (const OutlinePoint& point : outline)
    for (const double fraction : {point.at.x, point.at.y})
      if (auto problem = rangeProblem("point", fraction, -1, 2)) return problem;
  return std::nullopt;
}

std::optional<std::string> strokesProblem(const ParamSpec& spec, const StrokeList& strokes) {
  if (strokes.size() > kMaxStrokes) return fmt::format("has more than {} strokes", kMaxStrokes);
  std::size_t points = 0;
  for (const Stroke& stroke : strokes) {
    if (stroke.size() < kFewestStrokePoints)
      return fmt::format("has a stroke of {} points, but each needs at least {}", stroke.size(),
                         kFewestStrokePoints);
    if ((points += stroke.size()) > kMaxStrokePoints)
      return fmt::format("has more than {} points", kMaxStrokePoints);
    for (const Vec3d& point : stroke)
      for (int axis = 0; axis < 3; ++axis)
        if (auto problem = rangeProblem("point", point[axis], spec.min, spec.max)) return problem;
  }
  return std::nullopt;
}

std::optional<std::string> textProblem(const std::string& text) {
  if (text.size() > kLongestText) return fmt::format("has more than {} characters", kLongestText);
  return std::nullopt;
}

std::optional<std::string> markersProblem(const MarkerList& markers) {
  if (markers.size() > kMaxMarkers) return fmt::format("has more than {} markers", kMaxMarkers);
  for (const Marker& marker : markers) {
    if (auto problem = rangeProblem("marker frame", marker.frame, -kMaxFrame, kMaxFrame)) return problem;
    if (auto problem = textProblem(marker.note)) return problem;
  }
  return std::nullopt;
}

std::optional<std::string> rulesProblem(const RuleList& rules) {
  if (rules.size() > kMaxRules) return fmt::format("has more than {} rules", kMaxRules);
  for (std::size_t i = 0; i < rules.size(); ++i)
    if (auto problem = problemWith(rules[i])) return fmt::format("has rule {}, which {}", i + 1, *problem);
  return std::nullopt;
}

std::optional<std::string> choiceProblem(const ParamSpec& spec, const std::string& id) {
  std::string known;
  for (const ChoiceOption& option : spec.choices) {
    if (option.id == id) return std::nullopt;
    known += (known.empty() ? "" : ", ") + option.id;
  }
  return fmt::format("is \"{}\", but must be one of: {}", id, known);
}

std::optional<std::string> constantProblem(const ParamSpec& spec, const Value& value) {
  switch (spec.type) {
    case ParamType::Number:
    case ParamType::Integer:
      return numberProblem(spec, std::get<double>(value));
    case ParamType::Choice:
      return choiceProblem(spec, std::get<std::string>(value));
    case ParamType::Vector:
    case ParamType::Color:
      for (int axis = 0; axis < 3; ++axis)
        if (auto problem = numberProblem(spec, std::get<Vec3d>(value)[axis])) return problem;
      return std::nullopt;
    case ParamType::Gradient:
      return gradientProblem(std::get<Gradient>(value));
    case ParamType::Bursts:
      if (std::get<BurstList>(value).size() > kMaxBursts)
        return fmt::format("has more than {} bursts", kMaxBursts);
      for (const Burst& burst : std::get<BurstList>(value))
        if (auto problem = burstProblem(burst)) return problem;
      return std::nullopt;
    case ParamType::Text:
      return textProblem(std::get<std::string>(value));
    case ParamType::Markers:
      return markersProblem(std::get<MarkerList>(value));
    case ParamType::Curve:
      return problemWith(std::get<Curve>(value));
    case ParamType::Outline:
      return outlineProblem(std::get<OutlinePoints>(value));
    case ParamType::Strokes:
      return strokesProblem(spec, std::get<StrokeList>(value));
    case ParamType::File:
      return textProblem(std::get<FileRef>(value).path);
    case ParamType::Rules:
      return rulesProblem(std::get<RuleList>(value));
    case ParamType::Item:
      return textProblem(std::get<ItemRef>(value).name);
    case ParamType::Flag:
    case ParamType::Data:
      return std::nullopt;
  }
  return std::nullopt;
}

std::optional<std::string> keysProblem(const ParamSpec& spec, const ParamValue& value) {
  if (value.keys.empty()) return std::nullopt;
  if (!spec.canBeKeyed) return "cannot be keyed";
  double previous = -2 * kMaxFrame;
  for (const Key& key : value.keys) {
    if (auto problem = rangeProblem("key frame", key.frame, -kMaxFrame, kMaxFrame)) return problem;
    if (key.frame <= previous)
      return "has keys that are not in the order of their frames, or two on one frame";
    previous = key.frame;
    if (key.value.index() != value.base.index()) return "has keys of another type than its value";
    if (auto problem = constantProblem(spec, key.value)) return "has a key that " + *problem;
  }
  return std::nullopt;
}

std::optional<std::string> formulaProblem(const ParamSpec& spec, const ParamValue& value) {
  if (value.formula.empty()) return std::nullopt;
  if (!spec.takesFormula()) return "cannot have a formula";
  const auto problem = problemWithFormula(value.formula, spec.formulaScope());
  if (!problem) return std::nullopt;
  return fmt::format("has a formula that is wrong at character {}: {}", problem->position + 1,
                     problem->message);
}

std::optional<std::string> overAgeProblem(const ParamSpec& spec, const ParamValue& value) {
  if (!value.overAge) return std::nullopt;
  if (!spec.mapsOverAge) return "cannot be mapped over age";
  if (auto problem = problemWith(*value.overAge)) return "is mapped over age by a curve that " + *problem;
  return std::nullopt;
}

std::optional<std::string> inputProblem(const ParamSpec& spec, const ParamValue& value) {
  if (value.input != CurveInput::Age && !spec.choosesInput) return "can only be read by age";
  return rangeProblem("fastest speed", value.fastest, kMinFastest, 1e6);
}

double nearestNumber(const ParamSpec& spec, double number) {
  if (!std::isfinite(number)) number = std::get<double>(spec.defaultValue.base);
  if (spec.type == ParamType::Integer) number = std::round(number);
  return std::clamp(number, spec.min, spec.max);
}

Value nearestValue(const ParamSpec& spec, Value value) {
  if (auto* number = std::get_if<double>(&value)) *number = nearestNumber(spec, *number);
  if (auto* vector = std::get_if<Vec3d>(&value))
    for (int axis = 0; axis < 3; ++axis) {
      double& number = (*vector)[axis];
      if (!std::isfinite(number)) number = std::get<Vec3d>(spec.defaultValue.base)[axis];
      number = std::clamp(number, spec.min, spec.max);
    }
  return value;
}

}  // namespace

std::string_view toString(ParamType type) { return kTypeNames[static_cast<std::size_t>(type)]; }
std::string_view toString(Affects affects) { return kAffectsNames[static_cast<std::size_t>(affects)]; }
std::string_view toString(ItemFamily family) { return kFamilyNames[static_cast<std::size_t>(family)]; }

ParamSpec& ParamSpec::in(std::string sectionName) {
  section = std::move(sectionName);
  return *this;
}
ParamSpec& ParamSpec::tip(std::string text) {
  tipText = std::move(text);
  return *this;
}
ParamSpec& ParamSpec::unit(std::string text) {
  unitText = std::move(text);
  return *this;
}
ParamSpec& ParamSpec::range(double from, double to) {
  min = from;
  max = to;
  usualMin = std::max(usualMin, from);
  usualMax = std::min(usualMax, to);
  return *this;
}
ParamSpec& ParamSpec::usual(double from, double to) {
  usualMin = from;
  usualMax = to;
  return *this;
}
ParamSpec& ParamSpec::keyed() {
  canBeKeyed = true;
  return *this;
}
ParamSpec& ParamSpec::varied() {
  canVary = true;
  return *this;
}
ParamSpec& ParamSpec::overAge(Curve curve) {
  mapsOverAge = true;
  defaultValue.overAge = std::move(curve);
  return follows();
}
ParamSpec& ParamSpec::follows() {
  choosesInput = true;
  return *this;
}
ParamSpec& ParamSpec::frame() {
  isFrame = true;
  return *this;
}
ParamSpec& ParamSpec::perParticle() {
  isPerParticle = true;
  return *this;
}
ParamSpec& ParamSpec::affects(Affects part) {
  affectedPart = part;
  return *this;
}
ParamSpec& ParamSpec::simulatedToo() {
  isSimulatedToo = true;
  return *this;
}
ParamSpec& ParamSpec::when(std::string param, std::initializer_list<std::string> choiceIds) {
  conditions.push_back({std::move(param), choiceIds});
  return *this;
}

ParamSpec& ParamSpec::axesWhen(std::string param, std::string choiceId, std::string axes) {
  usedAxes.push_back({std::move(param), std::move(choiceId), std::move(axes)});
  return *this;
}

ParamSpec number(std::string id, std::string label, double value) {
  return spec(std::move(id), std::move(label), ParamType::Number, value);
}
ParamSpec integer(std::string id, std::string label, int value) {
  return spec(std::move(id), std::move(label), ParamType::Integer, static_cast<double>(value));
}
ParamSpec flag(std::string id, std::string label, bool value) {
  return spec(std::move(id), std::move(label), ParamType::Flag, value);
}
ParamSpec choice(std::string id, std::string label, std::vector<ChoiceOption> options) {
  ParamSpec result = spec(std::move(id), std::move(label), ParamType::Choice, options.front().id);
  result.choices = std::move(options);
  return result;
}
ParamSpec vector(std::string id, std::string label, const Vec3d& value) {
  return spec(std::move(id), std::move(label), ParamType::Vector, value);
}
ParamSpec color(std::string id, std::string label, const Vec3d& value) {
  return spec(std::move(id), std::move(label), ParamType::Color, value).range(0, kBrightestColor);
}
ParamSpec gradient(std::string id, std::string label, Gradient value) {
  return spec(std::move(id), std::move(label), ParamType::Gradient, std::move(value));
}
ParamSpec bursts(std::string id, std::string label) {
  return spec(std::move(id), std::move(label), ParamType::Bursts, BurstList{});
}
ParamSpec text(std::string id, std::string label) {
  return spec(std::move(id), std::move(label), ParamType::Text, std::string());
}
ParamSpec curve(std::string id, std::string label, Curve value) {
  return spec(std::move(id), std::move(label), ParamType::Curve, std::move(value));
}
ParamSpec outline(std::string id, std::string label) {
  return spec(std::move(id), std::move(label), ParamType::Outline, OutlinePoints());
}
ParamSpec strokes(std::string id, std::string label) {
  return spec(std::move(id), std::move(label), ParamType::Strokes, StrokeList());
}

ParamSpec markers(std::string id, std::string label) {
  return spec(std::move(id), std::move(label), ParamType::Markers, MarkerList());
}

ParamSpec file(std::string id, std::string label, FileKind kind) {
  ParamSpec result = spec(std::move(id), std::move(label), ParamType::File, FileRef());
  result.fileKind = kind;
  return result;
}
ParamSpec data(std::string id, std::string label) {
  return spec(std::move(id), std::move(label), ParamType::Data, Data());
}
ParamSpec reference(std::string id, std::string label, RefersTo what) {
  ParamSpec result = spec(std::move(id), std::move(label), ParamType::Item, ItemRef());
  result.refersTo = what;
  return result;
}

ParamSpec rules(std::string id, std::string label) {
  return spec(std::move(id), std::move(label), ParamType::Rules, RuleList());
}

KindSpec::KindSpec(std::string id, std::string label, ItemFamily family, std::string tip,
                   std::vector<ParamSpec> params, KindTraits traits)
    : id_(std::move(id)),
      label_(std::move(label)),
      family_(family),
      traits_(traits),
      tip_(std::move(tip)),
      params_(std::move(params)) {
  for (std::size_t i = 0; i < params_.size(); ++i) {
    const bool isNew = byId_.emplace(params_[i].id, i).second;
    assert(isNew && "two parameters of one kind share an id");
    (void)isNew;
    if (params_[i].type == ParamType::Item || params_[i].type == ParamType::Rules) references_.push_back(i);
  }
}

std::optional<std::size_t> KindSpec::find(std::string_view param) const {
  const auto found = byId_.find(param);
  if (found == byId_.end()) return std::nullopt;
  return found->second;
}

std::size_t KindSpec::indexOf(std::string_view param) const {
  if (const auto found = find(param)) return *found;
  throw std::logic_error(fmt::format("{} has no parameter {}", id_, param));
}

std::optional<std::string> problemWith(const Curve& curve) {
  if (curve.points().empty()) return "has no points";
  for (const CurvePoint& point : curve.points()) {
    if (auto problem = rangeProblem("curve position", point.x, 0, 1)) return problem;
    if (auto problem = rangeProblem("curve value", point.y, 0, kHighestCurve)) return problem;
  }
  return std::nullopt;
}

std::optional<std::string> problemWith(const ParamSpec& spec, const ParamValue& value) {
  if (value.base.index() != spec.defaultValue.base.index())
    return fmt::format("must be a {}", toString(spec.type));
  if (auto problem = constantProblem(spec, value.base)) return problem;
  if (value.variation != 0 && !spec.canVary) return "cannot have a variation";
  if (auto problem = rangeProblem("variation", value.variation, 0, spec.max - spec.min)) return problem;
  if (auto problem = keysProblem(spec, value)) return problem;
  if (auto problem = inputProblem(spec, value)) return problem;
  if (auto problem = formulaProblem(spec, value)) return problem;
  return overAgeProblem(spec, value);
}

ParamValue nearestValid(const ParamSpec& spec, ParamValue value) {
  value.base = nearestValue(spec, std::move(value.base));
  value.variation = std::isfinite(value.variation) && spec.canVary
                        ? std::clamp(value.variation, 0.0, spec.max - spec.min)
                        : 0.0;
  for (Key& key : value.keys) key.value = nearestValue(spec, std::move(key.value));
  return value;
}

std::string clearLabel(const KindSpec& kind, std::size_t param) {
  const ParamSpec& spec = kind.params()[param];
  const auto same = std::count_if(kind.params().begin(), kind.params().end(),
                                  [&spec](const ParamSpec& other) { return other.label == spec.label; });
  return same > 1 ? fmt::format("{} · {}", spec.section, spec.label) : spec.label;
}

std::vector<const KindSpec*> Catalog::kindsOf(ItemFamily family) const {
  std::vector<const KindSpec*> found;
  std::copy_if(kinds_.begin(), kinds_.end(), std::back_inserter(found),
               [family](const KindSpec* kind) { return kind->family() == family; });
  return found;
}

const KindSpec* Catalog::find(std::string_view kindId) const {
  const auto found = std::find_if(kinds_.begin(), kinds_.end(),
                                  [kindId](const KindSpec* kind) { return kind->id() == kindId; });
  return found == kinds_.end() ? nullptr : *found;
}

}  // namespace comet
