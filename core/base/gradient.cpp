#include "base/gradient.h"

#include <algorithm>
#include <cassert>

namespace comet {

Gradient::Gradient(std::vector<GradientStop> stops) : stops_(std::move(stops)) {
  assert(!stops_.empty());
  std::stable_sort(stops_.begin(), stops_.end(),
                   [](const GradientStop& a, const GradientStop& b) { return a.position < b.position; });
}

Vec3d Gradient::at(double position, ColorMix mix) const {
  const auto next =
      std::upper_bound(stops_.begin(), stops_.end(), position,
                       [](double value, const GradientStop& stop) { return value < stop.position; });
  if (next == stops_.begin()) return stops_.front().color;
  if (next == stops_.end()) return stops_.back().color;
  const auto previous = next - 1;
  const double t = (position - previous->position) / (next->position - previous->position);
  return mixColors(previous->color, next->color, t, mix);
}

}  // namespace comet
