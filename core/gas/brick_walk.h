// The way of a ray through bricks of voxels, one after the other (Amanatides and Woo 1987).
#pragma once

#include "base/grid.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace comet {

class BrickWalk {
 public:
  // From `start` by `across` with each step of the ray, in voxels from the corner of the bricks' grid, of so
  // many voxels along each edge of a brick. A start beyond the grid is in the nearest brick.
  BrickWalk(const GridLayout& bricks, std::size_t edge, const Vec3d& start, const Vec3d& across)
      : bricks_(bricks) {
    for (std::size_t axis = 0; axis < 3; ++axis) {
      const auto size = static_cast<double>(edge);
      const double at = start[static_cast<int>(axis)], step = across[static_cast<int>(axis)];
      at_[axis] = std::min(static_cast<std::size_t>(std::max(at / size, 0.0)), bricks.counts[axis] - 1);
      isUp_[axis] = step > 0;
      if (step == 0) continue;
      const double wall = size * static_cast<double>(at_[axis] + (isUp_[axis] ? 1 : 0));
      leaves_[axis] = (wall - at) / step;
      apart_[axis] = size / std::abs(step);
    }
    findNext();
  }

  // The brick's number in its grid.
  std::size_t brick() const { return bricks_.index(at_[0], at_[1], at_[2]); }
  // How many steps from the start the ray leaves it; no number of steps is enough where there is no brick
  // beyond.
  double leaves() const { return leaves_[next_]; }
  void goOn() {
    const bool isLast = isUp_[next_] ? at_[next_] + 1 == bricks_.counts[next_] : at_[next_] == 0;
    if (isLast) {
      leaves_[next_] = kNever;
    } else {
      at_[next_] += isUp_[next_] ? 1 : std::size_t(-1);
      leaves_[next_] += apart_[next_];
    }
    findNext();
  }

 private:
  void findNext() {
    next_ = leaves_[0] <= leaves_[1] ? 0 : 1;
    if (leaves_[2] < leaves_[next_]) next_ = 2;
  }

  static constexpr double kNever = std::numeric_limits<double>::infinity();

  const GridLayout& bricks_;
  std::array<std::size_t, 3> at_{};
  std::array<bool, 3> isUp_{};
  std::array<double, 3> leaves_{kNever, kNever, kNever};  // by the wall across each axis
  std::array<double, 3> apart_{};                         // between two such walls, in steps
  std::size_t next_ = 0;                                  // the axis across whose wall it leaves
};

}  // namespace comet
