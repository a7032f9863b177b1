// How much of a pixel a round sprite covers, by the pixel's distance from the centre.
//
// Every profile is made of ramps that are linear in the squared distance, which needs no root per pixel. A
// disc's rim is such a ramp about one pixel wide; since it is linear in the squared distance, the covered
// area is exactly πr² for every radius of at least a pixel.
#pragma once

#include "render/sprite.h"

#include <algorithm>
#include <cmath>

namespace comet {

// max(0, min(1, full - fall * d²)) at distance d.
struct Ramp {
  float full = 0;
  float fall = 0;
};

struct Coverage {
  Ramp outer;
  Ramp inner;         // taken away from the outer one
  bool open = false;  // whether there is an inner one
  float reach = 0;    // beyond this distance nothing is covered, pixels
};

inline Ramp rimRamp(float radius) { return {0.5F + 0.5F * radius, 0.5F / radius}; }

// The distance beyond which nothing is covered, in pixels.
inline float reachOf(const SpriteProfile& profile, float radius) {
  return profile.type == SpriteProfile::Type::SoftDisc ? radius : std::sqrt(radius * radius + radius);
}

inline Coverage coverageOf(const SpriteProfile& profile, float radius) {
  Coverage coverage;
  coverage.reach = reachOf(profile, radius);
  if (profile.type == SpriteProfile::Type::SoftDisc) {
    // The part of the squared radius over which it fades: never less than a rim's, so that it cannot alias.
    // Most soft discs fade all over; they are spared the divisions.
    const float hard = profile.hardness * profile.hardness;
    const float area = radius * radius;
    if (hard <= 0) {
      coverage.outer = {1.0F, 1.0F / area};
    } else {
      const float fade = std::max(1.0F - hard, std::min(1.0F, 2.0F / radius));
      coverage.outer = {1.0F / fade, 1.0F / (fade * area)};
    }
    return coverage;
  }
  coverage.outer = rimRamp(radius);
  const float innerRadius = radius * profile.innerRadius;
  // A hole of less than half a pixel cannot be seen.
  coverage.open = profile.type == SpriteProfile::Type::Ring && innerRadius > 0.5F;
  if (coverage.open) coverage.inner = rimRamp(innerRadius);
  return coverage;
}

}  // namespace comet
