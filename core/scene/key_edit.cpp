#include "scene/key_edit.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

namespace comet {
namespace {

// The item's values, with those changed that have keys in the set.
template <typename Change>
Scene withChangedTracks(const Scene& scene, ItemId item, const KeySet& keys, const Change& change) {
  std::map<std::string, std::set<double>> frames;
  for (const auto& [param, frame] : keys) frames[param].insert(frame);
  Scene next = scene;
  for (const auto& [param, chosen] : frames) {
    ParamValue value = scene.find(item)->value(param);
    change(param, value, chosen);
    next = next.withParam(item, param, value);
  }
  return next;
}

}  // namespace

KeySet keysOf(const Item& item) {
  KeySet keys;
  for (std::size_t i = 0; i < item.values.size(); ++i)
    for (const Key& key : item.values[i].keys) keys.emplace(item.kind->params()[i].id, key.frame);
  return keys;
}

Scene withKeysMoved(const Scene& scene, ItemId item, const KeySet& keys,
                    const std::function<double(double)>& frame, KeySet& moved) {
  moved.clear();
  return withChangedTracks(scene, item, keys,
                           [&](const std::string& param, ParamValue& value, const std::set<double>& chosen) {
                             KeyTrack track;
                             for (const Key& key : value.keys)
                               if (chosen.count(key.frame) == 0) track = withKey(track, key);
                             for (Key key : value.keys) {
                               if (chosen.count(key.frame) == 0) continue;
                               key.frame = std::round(frame(key.frame));
                               moved.emplace(param, key.frame);
                               track = withKey(track, key);
                             }
                             value.keys = track;
                           });
}

Scene withoutKeys(const Scene& scene, ItemId item, const KeySet& keys) {
  return withChangedTracks(scene, item, keys,
                           [](const std::string&, ParamValue& value, const std::set<double>& chosen) {
                             if (chosen.size() == value.keys.size()) value.base = value.keys.front().value;
                             for (const double frame : chosen) value.keys = withoutKey(value.keys, frame);
                           });
}

Scene withInterpolation(const Scene& scene, ItemId item, const KeySet& keys, Interpolation toNext) {
  return withChangedTracks(scene, item, keys,
                           [toNext](const std::string&, ParamValue& value, const std::set<double>& chosen) {
                             for (std::size_t i = 0; i < value.keys.size(); ++i)
                               if (chosen.count(value.keys[i].frame) != 0)
                                 setInterpolation(value.keys, i, toNext);
                           });
}

Scene withKeysCopied(const Scene& scene, ItemId item, const KeySet& keys, double frame, KeySet& copied) {
  copied.clear();
  double first = std::numeric_limits<double>::infinity();
  for (const auto& [param, at] : keys) first = std::min(first, at);
  return withChangedTracks(scene, item, keys,
                           [&](const std::string& param, ParamValue& value, const std::set<double>& chosen) {
                             const KeyTrack before = value.keys;
                             for (Key key : before) {
                               if (chosen.count(key.frame) == 0) continue;
                               key.frame += std::round(frame - first);
                               copied.emplace(param, key.frame);
                               value.keys = withKey(value.keys, key);
                             }
                           });
}

}  // namespace comet
