// What there is to see of a pixel: premultiplied linear light, and cover.
#pragma once

#include "base/vec.h"

#include <algorithm>

namespace comet {

// What eight bits tell from nothing without doubt.
constexpr float kSeen = 2.0F / 255;

inline float brightestOf(const Vec4& pixel) { return std::max({pixel.x, pixel.y, pixel.z}); }

// Light or cover, whichever is more.
inline float seenOf(const Vec4& pixel) { return std::max(brightestOf(pixel), pixel.w); }

// Its cover, where light that covers nothing counts as covering as much as it is bright.
inline float coverOf(const Vec4& pixel) { return std::max(pixel.w, std::min(1.0F, brightestOf(pixel))); }

}  // namespace comet
