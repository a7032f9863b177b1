// What a parameter of a scene item can hold: a constant, its random variation, keyframes, a course over age.
//
// Values are plain data with value semantics; they are compared to find out what an edit changed.
#pragma once

#include "base/curve.h"
#include "base/gradient.h"
#include "base/outline.h"
#include "base/strokes.h"
#include "base/vec.h"
#include "params/file_ref.h"
#include "params/item_ref.h"
#include "params/rule.h"

#include <array>
#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

namespace comet {

// Many births at one moment, or evenly spread over some frames. Times are frames, so that a burst keeps its
// position on the timeline.
struct Burst {
  double frame = 1;
  double count = 100;
  double variation = 0;  // of the count, both ways
  double duration = 0;   // frames over which the births are spread; 0 for one moment
  double every = 0;      // frames between repeats; 0 for none
  int times = 1;         // how often in all

  bool operator==(const Burst&) const = default;
};

using BurstList = std::vector<Burst>;

// A note at a frame of the timeline.
struct Marker {
  double frame = 1;
  std::string note;

  bool operator==(const Marker&) const = default;
};

// In the order of their frames, at most one a frame.
using MarkerList = std::vector<Marker>;

// Data that a scene carries along and that only one room understands, such as captured particles.
struct Data {
  std::shared_ptr<const std::string> bytes;  // null for none

  bool operator==(const Data& other) const {
    return bytes == other.bytes || (bytes && other.bytes && *bytes == *other.bytes);
  }
};

// Numbers and whole numbers are doubles, choices and texts are strings, vectors and colours are Vec3d.
using Value = std::variant<double, bool, std::string, Vec3d, Gradient, BurstList, Curve, OutlinePoints,
                           FileRef, Data, StrokeList, MarkerList, ItemRef, RuleList>;

// What runs along the axis of a curve or gradient that a particle reads its value from.
enum class CurveInput : std::uint8_t {
  Age,      // the fraction of its life that is over
  Speed,    // its speed as a fraction of `fastest`
  Random,   // a number of its own, drawn once
  Arrival,  // how much of its way to a point of its own it has behind it
};

// Calls act(reference) for each reference to another item that a value holds. `Held` is Value or const Value.
template <typename Held, typename Act>
void forEachReference(Held& value, const Act& act) {
  if (auto* reference = std::get_if<ItemRef>(&value)) act(*reference);
  if (auto* rules = std::get_if<RuleList>(&value))
    for (auto& rule : *rules) {
      for (auto& clause : rule.when) act(clause.item);
      for (auto& clause : rule.then) act(clause.item);
    }
}

std::string_view toString(CurveInput input);
// False if `text` names no input; `out` is then untouched.
bool fromString(std::string_view text, CurveInput& out);

struct Key {
  double frame = 0;
  Value value;
  Interpolation toNext = Interpolation::Smooth;
  // Of each number of the value; see CurvePoint.
  std::array<CurveHandle, 3> before{}, after{};

  bool operator==(const Key&) const = default;
};

// Sorted by frame, at most one key a frame. Empty: the parameter is constant.
using KeyTrack = std::vector<Key>;

struct ParamValue {
  Value base;
  double variation = 0;                // ±, uniform, per particle (or per frame where the parameter says so)
  KeyTrack keys;                       // replace `base` over time
  std::optional<Curve> overAge;        // multiplies the value over the fraction of life, 0 to 1
  CurveInput input = CurveInput::Age;  // what overAge, or a gradient, is read by
  double fastest = 10;                 // the speed at the right end if it is read by speed, units per second
  std::string formula;                 // computes the value over time from what it else is; empty for none

  bool operator==(const ParamValue&) const = default;

  bool changesInTime() const { return !keys.empty() || !formula.empty(); }

  // The value at a frame without the formula: the keys', or the constant. Keys exist on numbers,
  // Vec3d and flags only; a flag stays as it is until its next key.
  Value at(double frame) const;
  double numberAt(double frame) const { return std::get<double>(at(frame)); }
  Vec3d vectorAt(double frame) const { return std::get<Vec3d>(at(frame)); }
};

// The track with `key` put in; a key of the same frame is replaced.
KeyTrack withKey(KeyTrack track, Key key);
// The parameter with another value at a frame: as a key there if it is keyed, else as its constant.
ParamValue withValueAt(ParamValue param, const Value& value, double frame);
// The track without its key at `frame`, if it has one.
KeyTrack withoutKey(KeyTrack track, double frame);
bool hasKeyAt(const KeyTrack& track, double frame);

// How many numbers a value holds that can be keyed: 1 or 3.
int componentsOf(const Value& value);
double componentOf(const Value& value, int component);
// One number of the track as a curve over frames, and back into the track, which has as many keys as the
// curve has points.
std::vector<CurvePoint> curveOf(const KeyTrack& track, int component);
void setCurve(KeyTrack& track, int component, const std::vector<CurvePoint>& points);
// How the track goes on from one of its keys; a course that becomes free begins as it was.
void setInterpolation(KeyTrack& track, std::size_t key, Interpolation toNext);

}  // namespace comet
