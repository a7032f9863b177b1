// A picture in memory: linear RGBA floats, premultiplied alpha, rows from top to bottom.
#pragma once

#include "base/vec.h"

#include <cassert>
#include <cstddef>
#include <vector>

namespace comet {

class Picture {
 public:
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
  const std::vector<Vec4>& pixels() const { return pixels_; }

  // Copies `source` so that its top left corner comes to (x, y); it must fit.
  void paste(const Picture& source, int x, int y);
  // Averages blocks of `factor` × `factor` pixels; the size must be a multiple of it.
  Picture reduced(int factor) const;

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
  std::vector<Vec4> pixels_;
};

}  // namespace comet
