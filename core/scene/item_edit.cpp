#include "scene/item_edit.h"

#include <cmath>

namespace comet {

void setBase(Item& item, std::string_view param, Value value) {
  item.values[item.kind->indexOf(param)].base = std::move(value);
}

void setVaried(Item& item, std::string_view param, double value, double variation) {
  ParamValue& changed = item.values[item.kind->indexOf(param)];
  changed.base = value;
  changed.variation = variation;
}

double shortened(double number) { return std::round(number * 100) / 100; }

}  // namespace comet
