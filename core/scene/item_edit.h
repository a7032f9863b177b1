// Small edits that code makes of items.
#pragma once

#include "scene/scene.h"

#include <string_view>

namespace comet {

// Sets the constant value of a parameter that the item's kind has.
void setBase(Item& item, std::string_view param, Value value);
// The same with a variation (±).
void setVaried(Item& item, std::string_view param, double value, double variation);

// The scene with such a constant value in place of all that the parameter is.
Scene withBase(const Scene& scene, ItemId item, std::string_view param, Value value);

// With two decimals, so that fields stay readable.
double shortened(double number);

}  // namespace comet
