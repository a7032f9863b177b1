#include "params/value.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>

namespace comet {
namespace {

// Keys set by hand lie on frames; what is nearer than this is the same moment.
constexpr double kSameFrame = 1e-6;

constexpr std::array<std::string_view, 4> kInputNames{"age", "speed", "random", "arrival"};

auto findKey(const KeyTrack& track, double frame) {
  return std::find_if(track.begin(), track.end(),
                      [frame](const Key& key) { return std::abs(key.frame - frame) < kSameFrame; });
}

}  // namespace

std::string_view toString(CurveInput input) { return kInputNames[static_cast<std::size_t>(input)]; }

bool fromString(std::string_view text, CurveInput& out) {
  const auto* found = std::find(kInputNames.begin(), kInputNames.end(), text);
  if (found == kInputNames.end()) return false;
  out = static_cast<CurveInput>(found - kInputNames.begin());
  return true;
}

Value ParamValue::at(double frame) const {
  if (keys.empty()) return base;
  if (std::holds_alternative<double>(base)) return sampleCurve(curveOf(keys, 0), frame);
  if (std::holds_alternative<bool>(base)) {
    const auto after = std::find_if(keys.begin(), keys.end(),
                                    [frame](const Key& key) { return key.frame > frame + kSameFrame; });
    return after == keys.begin() ? after->value : std::prev(after)->value;
  }
  Vec3d sample(0.0);
  for (int axis = 0; axis < 3; ++axis) sample[axis] = sampleCurve(curveOf(keys, axis), frame);
  return sample;
}

ParamValue withValueAt(ParamValue param, const Value& value, double frame) {
  if (param.keys.empty())
    param.base = value;
  else
    param.keys = withKey(std::move(param.keys), {frame, value, Interpolation::Smooth});
  return param;
}

KeyTrack withKey(KeyTrack track, Key key) {
  track = withoutKey(std::move(track), key.frame);
  const auto after =
      std::find_if(track.begin(), track.end(), [&key](const Key& other) { return other.frame > key.frame; });
  track.insert(after, std::move(key));
  return track;
}

KeyTrack withoutKey(KeyTrack track, double frame) {
  const auto found = findKey(track, frame);
  if (found != track.end()) track.erase(found);
  return track;
}

bool hasKeyAt(const KeyTrack& track, double frame) { return findKey(track, frame) != track.end(); }

int componentsOf(const Value& value) { return std::holds_alternative<Vec3d>(value) ? 3 : 1; }

double componentOf(const Value& value, int component) {
  if (const auto* triple = std::get_if<Vec3d>(&value)) return (*triple)[component];
  if (const auto* isOn = std::get_if<bool>(&value)) return *isOn ? 1 : 0;
  return std::get<double>(value);
}

std::vector<CurvePoint> curveOf(const KeyTrack& track, int component) {
  std::vector<CurvePoint> points;
  points.reserve(track.size());
  const auto c = static_cast<std::size_t>(component);
  for (const Key& key : track)
    points.push_back({key.frame, componentOf(key.value, component), key.toNext, key.before[c], key.after[c]});
  return points;
}

void setCurve(KeyTrack& track, int component, const std::vector<CurvePoint>& points) {
  assert(track.size() == points.size());
  const auto c = static_cast<std::size_t>(component);
  for (std::size_t i = 0; i < track.size(); ++i) {
    Key& key = track[i];
    key.frame = points[i].x;
    if (auto* triple = std::get_if<Vec3d>(&key.value))
      (*triple)[component] = points[i].y;
    else if (std::holds_alternative<bool>(key.value))
      key.value = points[i].y >= 0.5;
    else
      key.value = points[i].y;
    key.toNext = points[i].toNext;
    key.before[c] = points[i].before;
    key.after[c] = points[i].after;
  }
}

void setInterpolation(KeyTrack& track, std::size_t key, Interpolation toNext) {
  if (toNext == Interpolation::Bezier && key + 1 < track.size()) {
    const KeyTrack before = track;
    for (int component = 0; component < componentsOf(track[key].value); ++component) {
      std::vector<CurvePoint> points = curveOf(before, component);
      freeFrom(points, key);
      setCurve(track, component, points);
    }
  }
  track[key].toNext = toNext;
}

}  // namespace comet
