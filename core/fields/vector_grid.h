// Vectors on a regular grid: a field that was made or read once and is asked at many places.
#pragma once

#include "base/digest.h"
#include "base/grid.h"
#include "base/vec.h"

#include <array>
#include <cstddef>
#include <vector>

namespace comet {

// What a field is beyond its box.
enum class Beyond { Nothing, Edge, Repeat };

// Cells fill a box; each has its vector at its middle, and between the middles of eight neighbours the field
// is trilinear. An axis with one cell has the same vectors all along. Immutable once filled; any thread.
class VectorGrid {
 public:
  using Counts = std::array<int, 3>;

  VectorGrid() = default;
  // Zero everywhere. Throws std::bad_alloc.
  explicit VectorGrid(const Counts& counts);

  const Counts& counts() const { return counts_; }
  std::size_t size() const { return cells_.size(); }
  bool empty() const { return cells_.empty(); }

  Vec3& at(int x, int y, int z) { return cells_[index(x, y, z)]; }
  const Vec3& at(int x, int y, int z) const { return cells_[index(x, y, z)]; }
  // The middle of a cell, in fractions of the box.
  Vec3d middleOf(int x, int y, int z) const;

  // `place` in fractions of the box, 0 to 1 along each axis. An empty grid is zero everywhere.
  Vec3d sample(const Vec3d& place, Beyond beyond) const;

  // Of the longest vector.
  double longest() const;
  Digest digest() const;

 private:
  std::size_t index(int x, int y, int z) const {
    return layout_.index(static_cast<std::size_t>(x), static_cast<std::size_t>(y),
                         static_cast<std::size_t>(z));
  }

  Counts counts_{};
  GridLayout layout_;  // the same as sizes
  std::vector<Vec3> cells_;
};

}  // namespace comet
