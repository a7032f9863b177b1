// One pixel in the forms in which it is asked for.
#pragma once

#include "base/vec.h"

#include <array>

namespace comet {

struct PixelValue {
  Vec4 premultiplied{0.0F};     // linear, with its alpha
  Vec3 straight{0.0F};          // linear colour, as if it covered all; black where nothing covers
  std::array<int, 3> screen{};  // sRGB from 0 to 255, over black, as a display shows it
};

// Of a pixel of a picture: linear, premultiplied.
PixelValue pixelValue(const Vec4& pixel);

}  // namespace comet
