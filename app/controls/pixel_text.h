// The value of a pixel in words.
#pragma once

#include "render/pixel_value.h"

#include <QString>

namespace comet {

QString pixelText(const PixelValue& value);

}  // namespace comet
