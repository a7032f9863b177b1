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

Scene withBase(const Scene& scene, ItemId item, std::string_view param, Value value) {
  ParamValue changed;
  changed.base = std::move(value);
  return scene.withParam(item, param, std::move(changed));
}

double shortened(double number) { return std::round(number * 100) / 100; }

}  // namespace comet
