#include "base/gradient.h"

#include <algorithm>
#include <cassert>
#include <cmath>

namespace comet {

Gradient::Gradient(std::vector<GradientStop> stops) : stops_(std::move(stops)) {
  assert(!stops_.empty());
  std::stable_sort(stops_.begin(), stops_.end(),
                   [](const GradientStop& a, const GradientStop& b) { return a.position < b.position; });
}

Vec3d Gradient::at(double position) const {
  const auto next =
      std::upper_bound(stops_.begin(), stops_.end(), position,
                       [](double value, const GradientStop& stop) { return value < stop.position; });
  if (next == stops_.begin()) return stops_.front().color;
  if (next == stops_.end()) return stops_.back().color;
  const auto previous = next - 1;
  const double t = (position - previous->position) / (next->position - previous->position);
  return previous->color + (next->color - previous->color) * t;
}

double encodeSrgb(double linear) {
  return linear <= 0.0031308 ? 12.92 * linear : 1.055 * std::pow(linear, 1.0 / 2.4) - 0.055;
}

double decodeSrgb(double encoded) {
  return encoded <= 0.04045 ? encoded / 12.92 : std::pow((encoded + 0.055) / 1.055, 2.4);
}

}  // namespace comet
