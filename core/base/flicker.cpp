#include "base/flicker.h"

#include "base/noise.h"

#include <algorithm>
#include <cmath>

namespace comet {

// Noise along a line that meets no point of its lattice, where it would be the same each time.
double Flicker::at(double seconds) const {
  if (amount == 0) return 1;
  const Vec3d beside(0, 0.37, 0.61);
  double sum = 0, weight = 1;
  for (int octave = 0; octave < 3; ++octave, weight *= 0.6) {
    // Not in whole numbers, so that the octaves do not beat together.
    const double speed = rate * std::pow(2.31, octave);
    const std::uint64_t pattern = seed * 8 + static_cast<std::uint64_t>(octave);
    if (period > 0) {
      const double times = std::max(1.0, std::round(speed * period));
      sum += weight *
             repeatingNoise(beside + Vec3d(seconds / period * times, 0, 0), Vec3d(times, 1, 1), pattern);
    } else {
      sum += weight * smoothNoise(beside + Vec3d(speed * seconds, 0, 0), pattern);
    }
  }
  return 1 - amount * std::clamp(0.5 + 0.9 * sum, 0.0, 1.0);
}

}  // namespace comet
