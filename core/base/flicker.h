// The flicker of flames and lamps: irregular, and never the same again.
#pragma once

#include <cstdint>

namespace comet {

struct Flicker {
  double amount = 0;  // how much of the light goes out at the darkest moments, 0 to 1
  double rate = 4;    // about how often in a second
  std::uint64_t seed = 1;
  double period = 0;  // seconds after which it repeats; 0 for never

  // The fraction of the light that is left at a time, 1 - amount to 1. Pure.
  double at(double seconds) const;
};

}  // namespace comet
