// Frames along a line of pixels.
#pragma once

#include "scene/scene.h"

#include <algorithm>

namespace comet {

struct TimeScale {
  FrameRange range;
  double left = 0, right = 1;  // pixels, of the first and the last frame

  double pixelsPerFrame() const { return (right - left) / std::max(1, range.count() - 1); }
  double xOf(double frame) const { return left + (frame - range.first) * pixelsPerFrame(); }
  double frameAt(double x) const { return range.first + (x - left) / std::max(1e-9, pixelsPerFrame()); }
};

}  // namespace comet
