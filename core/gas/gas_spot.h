// Values of a gas between its nodes.
#pragma once

#include "base/grid.h"

#include <algorithm>
#include <array>

namespace comet {

// Where a point lies among the nodes of a grid: the least of the eight around it, and how far beyond.
struct GasSpot {
  std::size_t index = 0;
  std::size_t right = 0, up = 0, ahead = 0;  // from a node to the next one; 0 at the last
  float x = 0, y = 0, z = 0;

  // `at` in voxels, from the middle of the first node.
  GasSpot(const GridLayout& layout, float atX, float atY, float atZ) {
    const auto axis = [](float at, std::size_t count, std::size_t& node, std::size_t& next, float& beyond) {
      const float most = static_cast<float>(count - 1);
      // Also where a velocity is no number: then it is the first node.
      const float within = at > 0 ? std::min(at, most) : 0.0F;
      node = std::min(static_cast<std::size_t>(within), count > 1 ? count - 2 : 0);
      next = count > 1 ? 1 : 0;
      beyond = within - static_cast<float>(node);
    };
    std::size_t i = 0, j = 0, k = 0;
    axis(atX, layout.counts[0], i, right, x);
    axis(atY, layout.counts[1], j, up, y);
    axis(atZ, layout.counts[2], k, ahead, z);
    up *= layout.row();
    ahead *= layout.plane();
    index = layout.index(i, j, k);
  }

  std::array<std::size_t, 8> nodes() const {
    const std::size_t a = index, b = index + ahead;
    return {a, a + right, a + up, a + right + up, b, b + right, b + up, b + right + up};
  }
  float mix(const std::array<float, 8>& v) const {
    const float a = v[0] + (v[1] - v[0]) * x, b = v[2] + (v[3] - v[2]) * x;
    const float c = v[4] + (v[5] - v[4]) * x, d = v[6] + (v[7] - v[6]) * x;
    const float near = a + (b - a) * y, far = c + (d - c) * y;
    return near + (far - near) * z;
  }
};

inline std::array<float, 8> valuesAround(const float* channel, const GasSpot& spot) {
  const auto nodes = spot.nodes();
  std::array<float, 8> values;
  for (std::size_t i = 0; i < 8; ++i) values[i] = channel[nodes[i]];
  return values;
}

}  // namespace comet
