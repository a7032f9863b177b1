// Numbers of the nodes of a grid, to be found between them by whole vectors of the machine.
#pragma once

#include "base/grid.h"
#include "base/untouched.h"

#include <algorithm>

namespace comet {

// Rows are read, and written, up to so many numbers beyond their ends.
constexpr std::size_t kRowSlack = 16;

// Rows along x have a number more at each end, which repeats the row's own, and room for whole vectors.
class PaddedRows {
 public:
  explicit PaddedRows(const GridLayout& layout)
      : layout_(layout),
        stride_(1 + layout.counts[0] + kRowSlack),
        numbers_(stride_ * layout.counts[1] * layout.counts[2] + kRowSlack + 1) {}

  const GridLayout& layout() const { return layout_; }
  // From a row to the next one.
  std::size_t stride() const { return stride_; }
  // The number before the first row's first.
  const float* data() const { return numbers_.data(); }

  // The row's first number; the one before it can be read too.
  float* row(std::size_t y, std::size_t z) { return numbers_.data() + start(y, z); }
  const float* row(std::size_t y, std::size_t z) const { return numbers_.data() + start(y, z); }
  // To be called once a row is set.
  void repeatEnds(std::size_t y, std::size_t z) {
    float* values = row(y, z);
    values[-1] = values[0];
    std::fill_n(values + layout_.counts[0], kRowSlack, values[layout_.counts[0] - 1]);
  }

 private:
  std::size_t start(std::size_t y, std::size_t z) const { return (z * layout_.counts[1] + y) * stride_ + 1; }

  GridLayout layout_;
  std::size_t stride_;
  UntouchedVector<float> numbers_;
};

}  // namespace comet
