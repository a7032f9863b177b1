#include "base/picture.h"

#include <algorithm>

namespace comet {

void Picture::paste(const Picture& source, int x, int y) {
  assert(x + source.width() <= width_ && y + source.height() <= height_);
  for (int r = 0; r < source.height(); ++r) std::copy_n(source.row(r), source.width(), row(y + r) + x);
}

Picture Picture::reduced(int factor) const {
  assert(factor > 0 && width_ % factor == 0 && height_ % factor == 0);
  if (factor == 1) return *this;
  Picture small(width_ / factor, height_ / factor);
  const float weight = 1.0F / static_cast<float>(factor * factor);
  for (int y = 0; y < small.height(); ++y) {
    for (int x = 0; x < small.width(); ++x) {
      Vec4 sum(0.0F);
      for (int dy = 0; dy < factor; ++dy)
        for (int dx = 0; dx < factor; ++dx) sum += at(x * factor + dx, y * factor + dy);
      small.at(x, y) = sum * weight;
    }
  }
  return small;
}

}  // namespace comet
