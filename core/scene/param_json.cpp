#include "base/base64.h"
#include "base/error.h"
#include "scene/rule_json.h"
#include "scene/scene_file.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace comet {
namespace {

using nlohmann::json;

double numberFrom(const json& value, const std::string& place) {
  if (!value.is_number()) refuseInput(place, fmt::format("must be a number, but is {}", value.type_name()));
  return value.get<double>();
}

Vec3d tripleFrom(const json& value, const std::string& place) {
  if (!value.is_array() || value.size() != 3) refuseInput(place, "must be a list of three numbers");
  Vec3d triple;
  for (int i = 0; i < 3; ++i) triple[i] = numberFrom(value[i], fmt::format("{}/{}", place, i));
  return triple;
}

double fieldFrom(const json& object, const char* field, double fallback, const std::string& place) {
  const auto found = object.find(field);
  return found == object.end() ? fallback : numberFrom(*found, place + "/" + field);
}

Interpolation interpolationFrom(const json& object, const std::string& place, Interpolation fallback) {
  const auto found = object.find("to_next");
  if (found == object.end()) return fallback;
  Interpolation interpolation = fallback;
  if (!found->is_string() || !fromString(found->get_ref<const std::string&>(), interpolation))
    refuseInput(place + "/to_next", "must be one of: linear, smooth, hold, free");
  return interpolation;
}

CurveHandle handleFrom(const json& value, const std::string& place) {
  if (!value.is_array() || value.size() != 2) refuseInput(place, "must be a list of two numbers");
  return {numberFrom(value[0], place + "/0"), numberFrom(value[1], place + "/1")};
}

// The handle that an entry has in a field, or none.
CurveHandle handleFrom(const json& object, const char* field, const std::string& place) {
  const auto found = object.find(field);
  return found == object.end() ? CurveHandle() : handleFrom(*found, place + "/" + field);
}

// The handles of each number of a value, in a list if there are several.
std::array<CurveHandle, 3> handlesFrom(const json& object, const char* field, const Value& value,
                                       const std::string& place) {
  if (componentsOf(value) == 1) return {handleFrom(object, field, place)};
  std::array<CurveHandle, 3> handles{};
  const auto found = object.find(field);
  if (found == object.end()) return handles;
  const std::string here = place + "/" + field;
  if (!found->is_array() || found->size() != handles.size())
    refuseInput(here, "must be a list of three handles");
  for (std::size_t i = 0; i < handles.size(); ++i)
    handles[i] = handleFrom((*found)[i], fmt::format("{}/{}", here, i));
  return handles;
}

const json& listOf(const json& value, const std::string& place) {
  constexpr std::size_t kLongestList = 100000;
  if (!value.is_array()) refuseInput(place, fmt::format("must be a list, but is {}", value.type_name()));
  if (value.size() > kLongestList) refuseInput(place, fmt::format("has more than {} entries", kLongestList));
  return value;
}

const json& objectAt(const json& list, std::size_t i, const std::string& place) {
  if (!list[i].is_object()) refuseInput(place, "must be an object");
  return list[i];
}

Gradient gradientFrom(const json& value, const std::string& place) {
  std::vector<GradientStop> stops;
  const json& list = listOf(value, place);
  for (std::size_t i = 0; i < list.size(); ++i) {
    const std::string here = fmt::format("{}/{}", place, i);
    const json& stop = objectAt(list, i, here);
    if (!stop.contains("color")) refuseInput(here, "needs a \"color\"");
    stops.push_back({fieldFrom(stop, "at", 0, here), tripleFrom(stop["color"], here + "/color")});
  }
  if (stops.empty()) refuseInput(place, "needs at least one stop");
  return Gradient(std::move(stops));
}

BurstList burstsFrom(const json& value, const std::string& place) {
  BurstList bursts;
  const json& list = listOf(value, place);
  for (std::size_t i = 0; i < list.size(); ++i) {
    const std::string here = fmt::format("{}/{}", place, i);
    const json& entry = objectAt(list, i, here);
    Burst burst;
    burst.frame = fieldFrom(entry, "frame", burst.frame, here);
    burst.count = fieldFrom(entry, "count", burst.count, here);
    burst.variation = fieldFrom(entry, "variation", burst.variation, here);
    burst.duration = fieldFrom(entry, "duration", burst.duration, here);
    burst.every = fieldFrom(entry, "every", burst.every, here);
    const double times = fieldFrom(entry, "times", burst.times, here);
    if (!(times >= 1 && times <= 1e6)) refuseInput(here + "/times", "must lie between 1 and 1e6");
    burst.times = static_cast<int>(times);
    bursts.push_back(burst);
  }
  return bursts;
}

std::string textFrom(const json& value, const std::string& place) {
  if (!value.is_string()) refuseInput(place, fmt::format("must be a text, but is {}", value.type_name()));
  return value.get<std::string>();
}

OutlinePoints outlineFrom(const json& value, const std::string& place) {
  OutlinePoints points;
  const json& list = listOf(value, place);
  for (std::size_t i = 0; i < list.size(); ++i) {
    const std::string here = fmt::format("{}/{}", place, i);
    const json& entry = objectAt(list, i, here);
    OutlinePoint point{{fieldFrom(entry, "x", 0, here), fieldFrom(entry, "y", 0, here)}, false};
    if (const auto smooth = entry.find("smooth"); smooth != entry.end()) {
      if (!smooth->is_boolean()) refuseInput(here + "/smooth", "must be true or false");
      point.smooth = smooth->get<bool>();
    }
    points.push_back(point);
  }
  return points;
}

StrokeList strokesFrom(const json& value, const std::string& place) {
  StrokeList strokes;
  const json& list = listOf(value, place);
  for (std::size_t s = 0; s < list.size(); ++s) {
    const std::string here = fmt::format("{}/{}", place, s);
    const json& points = listOf(list[s], here);
    Stroke& stroke = strokes.emplace_back();
    for (std::size_t i = 0; i < points.size(); ++i)
      stroke.push_back(tripleFrom(points[i], fmt::format("{}/{}", here, i)));
  }
  return strokes;
}

MarkerList markersFrom(const json& value, const std::string& place) {
  MarkerList markers;
  const json& list = listOf(value, place);
  for (std::size_t i = 0; i < list.size(); ++i) {
    const std::string here = fmt::format("{}/{}", place, i);
    const json& entry = objectAt(list, i, here);
    Marker marker;
    marker.frame = fieldFrom(entry, "frame", marker.frame, here);
    if (const auto note = entry.find("note"); note != entry.end())
      marker.note = textFrom(*note, here + "/note");
    markers.push_back(std::move(marker));
  }
  return markers;
}

Data dataFrom(const json& value, const std::string& place) {
  std::optional<std::string> bytes = decodeBase64(textFrom(value, place));
  if (!bytes) refuseInput(place, "is not base64", "Remove the field; what it holds is then left out");
  return bytes->empty() ? Data() : Data{std::make_shared<const std::string>(std::move(*bytes))};
}

Curve curveFrom(const json& value, const std::string& place) {
  std::vector<CurvePoint> points;
  const json& list = listOf(value, place);
  for (std::size_t i = 0; i < list.size(); ++i) {
    const std::string here = fmt::format("{}/{}", place, i);
    const json& entry = objectAt(list, i, here);
    points.push_back({fieldFrom(entry, "at", 0, here), fieldFrom(entry, "value", 0, here),
                      interpolationFrom(entry, here, Interpolation::Smooth),
                      handleFrom(entry, "handle_before", here), handleFrom(entry, "handle_after", here)});
  }
  return Curve(std::move(points));
}

Value constantFrom(const ParamSpec& spec, const json& value, const std::string& place) {
  switch (spec.type) {
    case ParamType::Number:
    case ParamType::Integer:
      return numberFrom(value, place);
    case ParamType::Flag:
      if (!value.is_boolean()) refuseInput(place, "must be true or false");
      return value.get<bool>();
    case ParamType::Choice:
    case ParamType::Text:
      return textFrom(value, place);
    case ParamType::Curve:
      return curveFrom(value, place);
    case ParamType::Outline:
      return outlineFrom(value, place);
    case ParamType::Strokes:
      return strokesFrom(value, place);
    case ParamType::Markers:
      return markersFrom(value, place);
    case ParamType::File:
      return FileRef{textFrom(value, place), nullptr, {}};
    case ParamType::Data:
      return dataFrom(value, place);
    case ParamType::Item:
      return ItemRef{textFrom(value, place)};
    case ParamType::Rules:
      return rulesFromJson(value, place);
    case ParamType::Vector:
    case ParamType::Color:
      return tripleFrom(value, place);
    case ParamType::Gradient:
      return gradientFrom(value, place);
    case ParamType::Bursts:
      return burstsFrom(value, place);
  }
  refuseInput(place, "has an unknown type");
}

KeyTrack keysFrom(const ParamSpec& spec, const json& value, const std::string& place) {
  KeyTrack keys;
  const json& list = listOf(value, place);
  for (std::size_t i = 0; i < list.size(); ++i) {
    const std::string here = fmt::format("{}/{}", place, i);
    const json& entry = objectAt(list, i, here);
    if (!entry.contains("frame") || !entry.contains("value"))
      refuseInput(here, "needs a \"frame\" and a \"value\"");
    const Value keyed = constantFrom(spec, entry["value"], here + "/value");
    keys.push_back({numberFrom(entry["frame"], here + "/frame"), keyed,
                    interpolationFrom(entry, here, Interpolation::Smooth),
                    handlesFrom(entry, "handle_before", keyed, here),
                    handlesFrom(entry, "handle_after", keyed, here)});
  }
  return keys;
}

json jsonFrom(const Vec3d& triple) { return json::array({triple.x, triple.y, triple.z}); }

json jsonFrom(const Gradient& gradient) {
  json list = json::array();
  for (const GradientStop& stop : gradient.stops())
    list.push_back({{"at", stop.position}, {"color", jsonFrom(stop.color)}});
  return list;
}

json jsonFrom(const BurstList& bursts) {
  json list = json::array();
  for (const Burst& burst : bursts)
    list.push_back({{"frame", burst.frame},
                    {"count", burst.count},
                    {"variation", burst.variation},
                    {"duration", burst.duration},
                    {"every", burst.every},
                    {"times", burst.times}});
  return list;
}

json jsonFrom(const CurveHandle& handle) { return json::array({handle.dx, handle.dy}); }

json jsonFrom(const std::array<CurveHandle, 3>& handles, int count) {
  if (count == 1) return jsonFrom(handles[0]);
  return json::array({jsonFrom(handles[0]), jsonFrom(handles[1]), jsonFrom(handles[2])});
}

json jsonFrom(const Curve& curve) {
  json list = json::array();
  for (const CurvePoint& point : curve.points()) {
    list.push_back({{"at", point.x}, {"value", point.y}, {"to_next", toString(point.toNext)}});
    if (point.before != CurveHandle()) list.back()["handle_before"] = jsonFrom(point.before);
    if (point.after != CurveHandle()) list.back()["handle_after"] = jsonFrom(point.after);
  }
  return list;
}

json jsonFrom(const OutlinePoints& outline) {
  json list = json::array();
  for (const OutlinePoint& point : outline) {
    list.push_back({{"x", point.at.x}, {"y", point.at.y}});
    if (point.smooth) list.back()["smooth"] = true;
  }
  return list;
}

json jsonFrom(const StrokeList& strokes) {
  json list = json::array();
  for (const Stroke& stroke : strokes) {
    json points = json::array();
    for (const Vec3d& point : stroke) points.push_back(jsonFrom(point));
    list.push_back(std::move(points));
  }
  return list;
}

json jsonFrom(const MarkerList& markers) {
  json list = json::array();
  for (const Marker& marker : markers) list.push_back({{"frame", marker.frame}, {"note", marker.note}});
  return list;
}

json jsonFrom(const FileRef& file) { return file.path; }

json jsonFrom(const RuleList& rules) { return jsonFromRules(rules); }

json jsonFrom(const ItemRef& reference) { return reference.name; }

json jsonFrom(const Data& data) { return data.bytes ? encodeBase64(*data.bytes) : std::string(); }

json jsonFrom(const ParamSpec& spec, const Value& value) {
  return std::visit(
      [&spec](const auto& held) -> json {
        using Held = std::decay_t<decltype(held)>;
        if constexpr (std::is_same_v<Held, double>) {
          if (spec.type == ParamType::Integer) return static_cast<std::int64_t>(held);
          return held;
        } else if constexpr (std::is_same_v<Held, bool> || std::is_same_v<Held, std::string>) {
          return held;
        } else {
          return jsonFrom(held);
        }
      },
      value);
}

json jsonFrom(const ParamSpec& spec, const Key& key) {
  json entry = {
      {"frame", key.frame}, {"value", jsonFrom(spec, key.value)}, {"to_next", toString(key.toNext)}};
  constexpr std::array<CurveHandle, 3> kNone{};
  const int count = componentsOf(key.value);
  if (key.before != kNone) entry["handle_before"] = jsonFrom(key.before, count);
  if (key.after != kNone) entry["handle_after"] = jsonFrom(key.after, count);
  return entry;
}

// A value in its long form is an object; only that form can carry variation, keys and a course over age.
ParamValue longFormFrom(const ParamSpec& spec, const json& value, const std::string& place) {
  ParamValue result = spec.defaultValue;
  result.variation = fieldFrom(value, "variation", 0, place);
  if (const auto found = value.find("value"); found != value.end())
    result.base = constantFrom(spec, *found, place + "/value");
  if (const auto found = value.find("keys"); found != value.end())
    result.keys = keysFrom(spec, *found, place + "/keys");
  if (const auto found = value.find("over_age"); found != value.end())
    result.overAge = curveFrom(*found, place + "/over_age");
  if (const auto found = value.find("follows"); found != value.end())
    if (!fromString(textFrom(*found, place + "/follows"), result.input))
      refuseInput(place + "/follows", "must be one of: age, speed, random");
  result.fastest = fieldFrom(value, "fastest", result.fastest, place);
  if (const auto found = value.find("formula"); found != value.end())
    result.formula = textFrom(*found, place + "/formula");
  static const std::vector<std::string_view> known{"value",   "variation", "keys",   "over_age",
                                                   "follows", "fastest",   "formula"};
  for (const auto& [field, unused] : value.items())
    if (std::find(known.begin(), known.end(), field) == known.end())
      refuseInput(place + "/" + field, "is not known here",
                  "Known are: value, variation, keys, over_age, follows, fastest, formula");
  return result;
}

}  // namespace

Curve curveFromJson(const json& value, const std::string& place) {
  Curve curve = curveFrom(value, place);
  if (const auto problem = problemWith(curve)) refuseInput(place, *problem);
  return curve;
}

json jsonFromCurve(const Curve& curve) { return jsonFrom(curve); }

ParamValue paramFromJson(const ParamSpec& spec, const json& value, const std::string& place) {
  ParamValue result = spec.defaultValue;
  if (value.is_object())
    result = longFormFrom(spec, value, place);
  else
    result.base = constantFrom(spec, value, place);
  if (const auto problem = problemWith(spec, result)) refuseInput(place, *problem);
  return result;
}

json jsonFromParam(const ParamSpec& spec, const ParamValue& value) {
  const ParamValue& usual = spec.defaultValue;
  if (value.variation == 0 && value.keys.empty() && value.overAge == usual.overAge &&
      value.input == usual.input && value.fastest == usual.fastest && value.formula.empty())
    return jsonFrom(spec, value.base);
  json result = {{"value", jsonFrom(spec, value.base)}};
  if (value.variation != 0) result["variation"] = value.variation;
  for (const Key& key : value.keys) result["keys"].push_back(jsonFrom(spec, key));
  if (value.overAge) result["over_age"] = jsonFrom(*value.overAge);
  if (value.input != usual.input) result["follows"] = toString(value.input);
  if (value.fastest != usual.fastest) result["fastest"] = value.fastest;
  if (!value.formula.empty()) result["formula"] = value.formula;
  return result;
}

}  // namespace comet
