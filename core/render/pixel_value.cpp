#include "render/pixel_value.h"

#include "base/color.h"

#include <algorithm>
#include <cmath>

namespace comet {

PixelValue pixelValue(const Vec4& pixel) {
  PixelValue value;
  value.premultiplied = pixel;
  if (pixel.w > 0) value.straight = Vec3(pixel) / pixel.w;
  for (int i = 0; i < 3; ++i) {
    const double encoded = encodeSrgb(std::clamp(static_cast<double>(pixel[i]), 0.0, 1.0));
    value.screen[static_cast<std::size_t>(i)] = static_cast<int>(std::lround(255 * encoded));
  }
  return value;
}

}  // namespace comet
