// A picture in memory: linear RGBA floats, premultiplied alpha, rows from top to bottom.
#pragma once

#include "base/vec.h"

#include <cassert>
#include <cstddef>
#include <new>
#include <tbb/scalable_allocator.h>
#include <utility>
#include <vector>

namespace comet {

// Keeps large blocks for the next picture instead of returning them to the system, and leaves the elements of
// a new vector untouched, so that they can be set by all threads.
template <typename Element>
class UntouchedAllocator : public tbb::scalable_allocator<Element> {
 public:
  template <typename Other>
  struct rebind {
    using other = UntouchedAllocator<Other>;
  };

  template <typename Other>
  void construct(Other*) noexcept {}
  template <typename Other, typename... Arguments>
  void construct(Other* place, Arguments&&... arguments) {
    ::new (static_cast<void*>(place)) Other(std::forward<Arguments>(arguments)...);
  }
};

class Picture {
 public:
  using Pixels = std::vector<Vec4, UntouchedAllocator<Vec4>>;

  Picture() = default;
  // Transparent black.
  Picture(int width, int height);

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

// The picture at a place, by straight lines between the middles of its pixels; (0.5, 0.5) is that of the top
// left one. Beyond the edge it is as at the edge.
Vec4 sampled(const Picture& picture, double x, double y);

// Each pixel the mean of `factor` by `factor`; what is left over at the right and the bottom is left out.
Picture reduced(const Picture& picture, int factor);

}  // namespace comet
