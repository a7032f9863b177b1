#include "base/distribution.h"

#include <algorithm>
#include <cmath>

namespace comet {

Distribution::Distribution(const Curve& density) {
  for (int i = 0; i <= kSteps; ++i) density_[i] = std::max(0.0, density.at(static_cast<double>(i) / kSteps));
  if (std::all_of(density_.begin(), density_.end(), [](double d) { return d == 0; })) density_.fill(1);
  below_[0] = 0;
  for (int i = 0; i < kSteps; ++i) below_[i + 1] = below_[i] + 0.5 * (density_[i] + density_[i + 1]) / kSteps;
  const double all = below_[kSteps];
  for (double& fraction : below_) fraction /= all;
  for (double& d : density_) d /= all;
}

double Distribution::at(double unit) const {
  const auto above = std::upper_bound(below_.begin() + 1, below_.end() - 1, unit);
  const auto step = static_cast<std::size_t>(above - below_.begin()) - 1;
  // Within a step the density is a straight line: solve for the area below it.
  const double area = std::max(0.0, unit - below_[step]);
  const double slope = (density_[step + 1] - density_[step]) * kSteps;
  const double root = std::sqrt(std::max(0.0, density_[step] * density_[step] + 2 * slope * area));
  const double sum = density_[step] + root;
  const double within = sum > 0 ? 2 * area / sum : 0;
  return std::clamp((static_cast<double>(step) / kSteps) + within, 0.0, 1.0);
}

void Distribution::describe(Hasher& hasher) const {
  hasher.bytes(density_.data(), density_.size() * sizeof(double));
}

}  // namespace comet
