// A picture in memory: linear RGBA floats, premultiplied alpha, rows from top to bottom.
#pragma once

#include "base/parallel.h"
#include "base/untouched.h"
#include "base/vec.h"

#include <cassert>
#include <cstddef>
#include <utility>
#include <vector>

namespace comet {

class Picture {
 public:
  using Pixels = UntouchedVector<Vec4>;

  Picture() = default;
  // Transparent black.
  Picture(int width, int height);
  // All of whose pixels are still to be set.
  static Picture unset(int width, int height);

  int width() const { return width_; }
  int height() const { return height_; }
  bool empty() const { return pixels_.empty(); }

  Vec4& at(int x, int y) { return pixels_[index(x, y)]; }
  const Vec4& at(int x, int y) const { return pixels_[index(x, y)]; }
  Vec4* row(int y) { return pixels_.data() + index(0, y); }
  const Vec4* row(int y) const { return pixels_.data() + index(0, y); }
  const Pixels& pixels() const { return pixels_; }

  // Puts `source` here, its top left corner at (x, y), each pixel the average of a block of `factor` ×
  // `factor` of its pixels; what is left over at its right and bottom is left out. The result must fit.
  void pasteReduced(const Picture& source, int factor, int x, int y);

  // A copy of `count` rows from `first` on; those below the picture are transparent.
  Picture rows(int first, int count) const;

  bool operator==(const Picture&) const = default;

 private:
  std::size_t index(int x, int y) const {
    assert(x >= 0 && y >= 0 && x <= width_ && y < height_);
    return static_cast<std::size_t>(y) * width_ + x;
  }

  int width_ = 0;
  int height_ = 0;
  Pixels pixels_;
};

// A part of a picture that is looked at where it is.
struct PictureView {
  const Vec4* first = nullptr;  // top left
  int width = 0, height = 0;
  std::ptrdiff_t stride = 0;  // pixels from row to row

  const Vec4* row(int y) const { return first + y * stride; }
};

inline PictureView viewOf(const Picture& picture) {
  return {picture.empty() ? nullptr : picture.row(0), picture.width(), picture.height(), picture.width()};
}

// The picture at a place, by straight lines between the middles of its pixels; (0.5, 0.5) is that of the top
// left one. Beyond the edge it is as at the edge.
Vec4 sampled(const Picture& picture, double x, double y);

// The picture with change(pixel) for each of its pixels, by all threads.
template <typename Change>
Picture changed(Picture picture, const Change& change) {
  parallelFor(static_cast<std::size_t>(picture.height()), [&](std::size_t y) {
    Vec4* row = picture.row(static_cast<int>(y));
    for (int x = 0; x < picture.width(); ++x) row[x] = change(std::as_const(row[x]));
  });
  return picture;
}

// Each pixel the mean of `factor` by `factor`; what is left over at the right and the bottom is left out.
Picture reduced(const Picture& picture, int factor);

}  // namespace comet
