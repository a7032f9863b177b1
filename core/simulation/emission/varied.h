// A number with a random part.
#pragma once

#include "base/identity.h"
#include "base/vec.h"
#include "params/formula.h"

#include <cstdint>
#include <memory>

namespace comet {

struct Varied {
  double value = 0;
  double variation = 0;
  std::shared_ptr<const ParticleFormula> formula{};  // of births; computes the number from what was picked

  // A number in [value - variation, value + variation) for `unit` in [-1, 1).
  double pick(double unit) const { return value + variation * unit; }
  // What a birth gets, with the formula.
  double pick(double unit, const ParticleMoment& birth) const {
    return formula ? formula->of(birth, pick(unit)) : pick(unit);
  }

  void describe(Hasher& hasher) const {
    hasher << value << variation << (formula != nullptr);
    if (formula) formula->describe(hasher);
  }
};

// What a formula may know of a particle that is being born at a place: its age and speed are zero, and its
// life counts as one second.
inline ParticleMoment birthMoment(std::uint64_t birth, const Vec3d& place) {
  return {0, 1, 0, 0, static_cast<double>(withoutCycle(birth)), place.x, place.y, place.z};
}

}  // namespace comet
