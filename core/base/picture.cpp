#include "base/picture.h"

#include "base/parallel.h"

#include <algorithm>

namespace comet {

Picture::Picture(int width, int height)
    : width_(width),
      height_(height),
      pixels_(static_cast<std::size_t>(width) * static_cast<std::size_t>(height)) {
  parallelFor(static_cast<std::size_t>(height),
              [&](std::size_t y) { std::fill_n(row(static_cast<int>(y)), width, Vec4(0.0F)); });
}

Picture Picture::unset(int width, int height) {
  Picture picture;
  picture.width_ = width;
  picture.height_ = height;
  picture.pixels_.resize(static_cast<std::size_t>(width) * static_cast<std::size_t>(height));
  return picture;
}

void Picture::pasteReduced(const Picture& source, int factor, int x, int y) {
  assert(factor > 0);
  const int width = source.width() / factor, height = source.height() / factor;
  assert(x + width <= width_ && y + height <= height_);
  const float weight = 1.0F / static_cast<float>(factor * factor);
  parallelFor(static_cast<std::size_t>(height), [&](std::size_t index) {
    const int line = static_cast<int>(index);
    Vec4* out = row(y + line) + x;
    if (factor == 1) {
      std::copy_n(source.row(line), width, out);
      return;
    }
    for (int column = 0; column < width; ++column) {
      Vec4 sum(0.0F);
      for (int dy = 0; dy < factor; ++dy) {
        const Vec4* block = source.row(line * factor + dy) + column * factor;
        for (int dx = 0; dx < factor; ++dx) sum += block[dx];
      }
      out[column] = sum * weight;
    }
  });
}

Picture Picture::rows(int first, int count) const {
  Picture part = unset(width_, count);
  parallelFor(static_cast<std::size_t>(count), [&](std::size_t index) {
    const int y = static_cast<int>(index);
    if (first + y < height_)
      std::copy_n(row(first + y), width_, part.row(y));
    else
      std::fill_n(part.row(y), width_, Vec4(0.0F));
  });
  return part;
}

Vec4 sampled(const Picture& picture, double x, double y) {
  const double u = std::clamp(x - 0.5, 0.0, picture.width() - 1.0);
  const double v = std::clamp(y - 0.5, 0.0, picture.height() - 1.0);
  const int i = static_cast<int>(u), j = static_cast<int>(v);
  const int i1 = std::min(i + 1, picture.width() - 1), j1 = std::min(j + 1, picture.height() - 1);
  const auto tx = static_cast<float>(u - i), ty = static_cast<float>(v - j);
  return (picture.at(i, j) * (1 - tx) + picture.at(i1, j) * tx) * (1 - ty) +
         (picture.at(i, j1) * (1 - tx) + picture.at(i1, j1) * tx) * ty;
}

Picture reduced(const Picture& picture, int factor) {
  Picture small = Picture::unset(picture.width() / factor, picture.height() / factor);
  small.pasteReduced(picture, factor, 0, 0);
  return small;
}

}  // namespace comet
