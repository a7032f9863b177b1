#include "params/value.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace comet {
namespace {

// Keys set by hand lie on frames; what is nearer than this is the same moment.
constexpr double kSameFrame = 1e-6;

constexpr std::array<std::string_view, 3> kInputNames{"age", "speed", "chance"};

template <typename Component>
double sampleComponent(const KeyTrack& keys, double frame, const Component& component) {
  std::vector<CurvePoint> points;
  points.reserve(keys.size());
  for (const Key& key : keys) points.push_back({key.frame, component(key.value), key.toNext});
  return sampleCurve(points, frame);
}

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
  if (std::holds_alternative<double>(base))
    return sampleComponent(keys, frame, [](const Value& value) { return std::get<double>(value); });
  Vec3d sample(0.0);
  for (int axis = 0; axis < 3; ++axis)
    sample[axis] =
        sampleComponent(keys, frame, [axis](const Value& value) { return std::get<Vec3d>(value)[axis]; });
  return sample;
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

}  // namespace comet
