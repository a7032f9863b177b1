// Small edits that code makes of items.
#pragma once

#include "scene/item.h"

#include <string_view>

namespace comet {

// Sets the constant value of a parameter that the item's kind has.
void setBase(Item& item, std::string_view param, Value value);
// The same with the kind's variation (±).
void setVaried(Item& item, std::string_view param, double value, double variation);

// With two decimals, so that fields stay readable.
double shortened(double number);

}  // namespace comet
