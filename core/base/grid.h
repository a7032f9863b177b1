// Regular grids of three axes: where a node's value lies, and what lies between nodes.
#pragma once

#include "base/vec.h"

#include <array>
#include <cstddef>

namespace comet {

// How many nodes a grid has along each axis, and the order of their values: x fastest.
struct GridLayout {
  std::array<std::size_t, 3> counts{};

  std::size_t size() const { return counts[0] * counts[1] * counts[2]; }
  std::size_t index(std::size_t x, std::size_t y, std::size_t z) const {
    return (z * counts[1] + y) * counts[0] + x;
  }
  // From a node to the next one along y, and along z.
  std::size_t row() const { return counts[0]; }
  std::size_t plane() const { return counts[0] * counts[1]; }

  bool operator==(const GridLayout&) const = default;
};

// Between eight nodes, linear along x, then y, then z. `corner(i)` is the value of the node that lies one
// further along x where bit 0 of `i` is set, along y by bit 1, along z by bit 2; `t` is 0 to 1 along each
// axis.
template <typename Corner>
auto trilinear(const Corner& corner, const Vec3d& t) {
  const auto along = [&](int first) {
    const auto a = corner(first), b = corner(first + 1);
    return a + (b - a) * t.x;
  };
  const auto across = [&](int first) {
    const auto a = along(first), b = along(first + 2);
    return a + (b - a) * t.y;
  };
  const auto near = across(0), far = across(4);
  return near + (far - near) * t.z;
}

}  // namespace comet
