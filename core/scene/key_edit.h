// Edits of many keys at once. Keys are named by their parameter and frame.
#pragma once

#include "scene/scene.h"

#include <functional>
#include <set>
#include <string>
#include <utility>

namespace comet {

using KeyName = std::pair<std::string, double>;  // parameter, frame
using KeySet = std::set<KeyName>;

// All keys of an item.
KeySet keysOf(const Item& item);

// The scene with these keys at other frames, rounded to whole ones; `moved` gets the names that they have
// then. A key that comes onto another one's frame replaces it.
Scene withKeysMoved(const Scene& scene, ItemId item, const KeySet& keys,
                    const std::function<double(double)>& frame, KeySet& moved);

// The last key that goes leaves its value behind.
Scene withoutKeys(const Scene& scene, ItemId item, const KeySet& keys);

Scene withInterpolation(const Scene& scene, ItemId item, const KeySet& keys, Interpolation toNext);

// The keys of the set once more, so that the first of them lies on `frame`.
Scene withKeysCopied(const Scene& scene, ItemId item, const KeySet& keys, double frame, KeySet& copied);

}  // namespace comet
