// From linear light to what a screen shows.
#pragma once

#include "base/picture.h"

#include <cstdint>
#include <vector>

namespace comet {

// The picture over a ground, as sRGB pixels 0xFFRRGGBB in rows without gaps. `ground` is linear. What is
// brighter than the screen can show is clipped.
std::vector<std::uint32_t> screenPixels(const Picture& picture, const Vec3& ground);

// As above over a checker of two grounds with squares of `square` pixels.
std::vector<std::uint32_t> screenPixelsOverChecker(const Picture& picture, const Vec3& light,
                                                   const Vec3& dark, int square);

}  // namespace comet
