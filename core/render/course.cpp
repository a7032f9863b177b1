#include "render/course.h"

#include <algorithm>

namespace comet {

Course::Course(const Item& item, const char* param, double frame, Draw variation, Draw follows, double unit)
    : unit_(unit),
      value_(item.number(param, frame) * unit),
      variation_(item.value(param).variation * unit),
      formula_(item.particleFormula(param, frame)),
      draw_(variation),
      input_(item.value(param), follows) {
  const std::optional<Curve>& curve = item.value(param).overAge;
  isFlat_ = !curve || curve->points().size() == 1;
  if (isFlat_) {
    flat_ = curve ? curve->at(0) : 1;
    return;
  }
  // A free course between two points could go below zero.
  table_.fill([&curve](double x) { return static_cast<float>(std::max(0.0, curve->at(x))); });
  double sum = 0, before = table_.at(0), place = 0;
  areaBelow_.fill([&](double x) {
    const double value = table_.at(x);
    sum += 0.5 * (before + value) * (x - place);
    before = value;
    place = x;
    return static_cast<float>(sum);
  });
}

double Course::meanUntil(double fraction) const {
  if (isFlat_) return flat_;
  return fraction > 1e-6 ? areaBelow_.at(fraction) / fraction : table_.at(0);
}

}  // namespace comet
