// A number with a random part.
#pragma once

namespace comet {

struct Varied {
  double value = 0;
  double variation = 0;

  // A number in [value - variation, value + variation) for `unit` in [-1, 1).
  double pick(double unit) const { return value + variation * unit; }
};

}  // namespace comet
