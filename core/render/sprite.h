// What the rasteriser draws: round sprites in picture space, and the profiles that say how they fade to their
// rims.
#pragma once

#include "base/vec.h"

#include <cstdint>
#include <vector>

namespace comet {

// Smaller sprites are drawn this large and as much fainter, so that their light stays the same. In pixels.
constexpr float kSmallestRadius = 1.0F;

struct SpriteProfile {
  enum class Type : std::uint8_t { Dot, SoftDisc, Ring };

  Type type = Type::SoftDisc;
  bool covers = true;     // false: additive, adds its light and hides nothing
  float hardness = 0;     // soft disc: share of the radius that is full
  float innerRadius = 0;  // ring: share of the radius that is open
};

struct Sprite {
  float x, y;              // centre, pixels
  float radius;            // pixels, at least kSmallestRadius
  float depth;             // larger is further away
  float red, green, blue;  // linear light, not multiplied with opacity
  float opacity;           // 0 to 1
  std::uint32_t profile;   // index into the list of profiles
};

// Brings a sprite of any radius to at least kSmallestRadius, keeping the light it gives.
inline void keepVisible(Sprite& sprite) {
  if (sprite.radius >= kSmallestRadius) return;
  const float share = sprite.radius / kSmallestRadius;
  sprite.opacity *= share * share;
  sprite.radius = kSmallestRadius;
}

}  // namespace comet
