// Values of a gas between its nodes.
#pragma once

#include "base/grid.h"

#include <array>
#include <cstdint>

namespace comet {

// Four numbers that are computed with at once (a vector of the compiler), of which points use three.
using Four = float __attribute__((vector_size(16)));

// Where a point lies among the nodes of a grid: the least of the eight around it, and how far beyond, 0 to 1.
struct GasSpot {
  std::size_t index;
  Four beyond;
};

// The nodes of a grid, to find points among them and mix their values.
class GasNodes {
 public:
  explicit GasNodes(const GridLayout& layout) {
    const std::array<std::size_t, 3> step{1, layout.row(), layout.plane()};
    for (std::size_t axis = 0; axis < 3; ++axis) {
      const auto last = static_cast<std::int32_t>(layout.counts[axis]) - 1;
      last_[axis] = static_cast<float>(last);
      lastLow_[axis] = last > 0 ? last - 1 : 0;
      next_[axis] = last > 0 ? step[axis] : 0;
    }
  }

  // A point in voxels from the first node. Beyond the last node it is at it; what is no number is at the
  // first.
  GasSpot spotAt(Four at) const {
    const Four zero{};
    Four inside = at > zero ? at : zero;
    inside = inside < last_ ? inside : last_;
    Whole node = __builtin_convertvector(inside, Whole);
    node = node < lastLow_ ? node : lastLow_;
    return {static_cast<std::size_t>(node[0]) + static_cast<std::size_t>(node[1]) * next_[1] +
                static_cast<std::size_t>(node[2]) * next_[2],
            inside - __builtin_convertvector(node, Four)};
  }

  // The values of a channel at the eight nodes around a point.
  std::array<float, 8> around(const float* channel, const GasSpot& spot) const {
    const float* a = channel + spot.index;
    const float* b = a + next_[2];
    return {a[0], a[next_[0]], a[next_[1]], a[next_[0] + next_[1]],
            b[0], b[next_[0]], b[next_[1]], b[next_[0] + next_[1]]};
  }
  static float mix(const std::array<float, 8>& v, const GasSpot& spot) {
    const float x = spot.beyond[0], y = spot.beyond[1], z = spot.beyond[2];
    const float a = v[0] + (v[1] - v[0]) * x, b = v[2] + (v[3] - v[2]) * x;
    const float c = v[4] + (v[5] - v[4]) * x, d = v[6] + (v[7] - v[6]) * x;
    const float near = a + (b - a) * y, far = c + (d - c) * y;
    return near + (far - near) * z;
  }
  float valueAt(const float* channel, const GasSpot& spot) const { return mix(around(channel, spot), spot); }

 private:
  using Whole = std::int32_t __attribute__((vector_size(16)));

  Four last_{};
  Whole lastLow_{};
  std::array<std::size_t, 3> next_{};  // from a node to the next one along each axis; 0 if there is none
};

}  // namespace comet
