// Random numbers that follow a curve: where the curve is high, numbers are frequent.
#pragma once

#include "base/curve.h"
#include "base/digest.h"

#include <array>

namespace comet {

// A curve over 0 to 1, taken as a density. A curve that is zero all over counts as even.
class Distribution {
 public:
  explicit Distribution(const Curve& density);

  // The number below which a fraction `unit` of all numbers lies: uniform numbers in [0, 1) give numbers in
  // [0, 1] that follow the density. The density is followed by straight pieces, kSteps over the whole.
  double at(double unit) const;

  void describe(Hasher& hasher) const;

 private:
  static constexpr int kSteps = 256;

  std::array<double, kSteps + 1> density_;
  std::array<double, kSteps + 1> below_;  // the fraction of numbers below each step's begin
};

}  // namespace comet
