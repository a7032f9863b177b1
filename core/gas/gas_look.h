// How gas looks: how much light it stops, what colour it has, and how it is lit. Nothing of it changes how
// the gas moves.
#pragma once

#include "base/vec.h"

#include <algorithm>
#include <array>
#include <cstddef>
#include <limits>

namespace comet {

// A function of a number from 0 to `max`, as a table between whose entries values are mixed. Beyond the ends
// it is what it is there.
template <typename Value>
class LookTable {
 public:
  static constexpr std::size_t kEntries = 256;

  // of(x) for x from 0 to `max`.
  template <typename Of>
  LookTable(float max, const Of& of) : perUnit_(static_cast<float>(kEntries - 1) / max) {
    for (std::size_t i = 0; i < kEntries; ++i) entries_[i] = of(static_cast<float>(i) / perUnit_);
  }
  Value at(float x) const {
    const float place = x > 0 ? std::min(x * perUnit_, static_cast<float>(kEntries - 1)) : 0.0F;
    const auto below = std::min(static_cast<std::size_t>(place), kEntries - 2);
    const float beyond = place - static_cast<float>(below);
    return entries_[below] + (entries_[below + 1] - entries_[below]) * beyond;
  }

 private:
  float perUnit_;
  std::array<Value, kEntries> entries_;
};

// What the colour of gas is read by.
enum class GasColorBy { Density, Temperature, Source, Age };

struct GasLook {
  // Of density: how much of the light on a unit of its way is stopped (the extinction coefficient, per unit).
  LookTable<float> extinction{1.0F, [](float density) { return density; }};
  // Of what `colorBy` says, and of density where that is the sources but none gives a colour: the part of the
  // stopped light that goes on in another direction, linear.
  LookTable<Vec3> color{1.0F, [](float) { return Vec3(0.8F); }};
  GasColorBy colorBy = GasColorBy::Density;
  float fullAge = 1;     // seconds; where `colorBy` is the age, that at which it has come to its end
  float anisotropy = 0;  // of the phase function (Henyey and Greenstein 1941): -1 back, 1 ahead
  float shadow = 1;      // how much of the extinction counts on the way of light into the gas, 0 to 1
  // Octaves that stand for light that is scattered several times, 1 or more; in all as bright as one where
  // nothing is in shadow.
  int scatterings = 1;
  Vec3 ambient{0.1F};  // light from all sides
  // The light that gas gives off by itself on a unit of its way, by its temperature above the air's; none up
  // to `glowsFrom`.
  LookTable<Vec3> fire{1.0F, [](float) { return Vec3(0.0F); }};
  float glowsFrom = std::numeric_limits<float>::infinity();
  float fireOnGas = 1;  // how much of it gas is lit by, 0 and more

  void putOutFire() { glowsFrom = std::numeric_limits<float>::infinity(); }
  bool glows() const { return glowsFrom < std::numeric_limits<float>::infinity(); }
};

// How much light is sent on in a direction (Henyey and Greenstein 1941), given the cosine of the angle by
// which it is turned, compared with gas that sends as much in all directions.
float phase(float anisotropy, float cosine);

}  // namespace comet
