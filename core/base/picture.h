// A picture in memory: linear RGBA floats, premultiplied alpha, rows from top to bottom.
#pragma once

#include "base/vec.h"

#include <cassert>
#include <cstddef>
#include <tbb/scalable_allocator.h>
#include <vector>

namespace comet {

class Picture {
 public:
  // This allocator keeps large blocks for the next picture instead of returning them to the system.
  using Pixels = std::vector<Vec4, tbb::scalable_allocator<Vec4>>;

  Picture() = default;
  Picture(int width, int height)
      : width_(width), height_(height), pixels_(static_cast<std::size_t>(width) * height) {}

  int width() const { return width_; }
  int height() const { return height_; }
  bool empty() const { return pixels_.empty(); }

  Vec4& at(int x, int y) { return pixels_[index(x, y)]; }
  const Vec4& at(int x, int y) const { return pixels_[index(x, y)]; }
  Vec4* row(int y) { return pixels_.data() + index(0, y); }
  const Vec4* row(int y) const { return pixels_.data() + index(0, y); }
  const Pixels& pixels() const { return pixels_; }

  // Puts `source` here, its top left corner at (x, y), each pixel the average of a block of `factor` ×
  // `factor` of its pixels. Its size must be a multiple of the factor, and the result must fit.
  void pasteReduced(const Picture& source, int factor, int x, int y);

  bool operator==(const Picture& other) const {
    return width_ == other.width_ && height_ == other.height_ && pixels_ == other.pixels_;
  }

 private:
  std::size_t index(int x, int y) const {
    assert(x >= 0 && y >= 0 && x <= width_ && y < height_);
    return static_cast<std::size_t>(y) * width_ + x;
  }

  int width_ = 0;
  int height_ = 0;
  Pixels pixels_;
};

}  // namespace comet
