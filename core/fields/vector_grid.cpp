#include "fields/vector_grid.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

// The two cells whose middles a place lies between, and how far along it is.
struct Between {
  int first = 0, second = 0;
  double fraction = 0;
};

Between cellsAround(double place, int count, Beyond beyond) {
  if (count == 1) return {};
  const double position = place * count - 0.5;
  const double below = std::floor(position);
  if (beyond == Beyond::Repeat) {
    // Taken apart before it becomes a whole number, which far places would not fit into.
    const double wrapped = below - count * std::floor(below / count);
    const int first = std::min(static_cast<int>(wrapped), count - 1);
    return {first, first + 1 == count ? 0 : first + 1, position - below};
  }
  const double held = std::clamp(position, 0.0, count - 1.0);
  const int first = std::min(static_cast<int>(held), count - 2);
  return {first, first + 1, held - first};
}

}  // namespace

VectorGrid::VectorGrid(const Counts& counts)
    : counts_(counts),
      layout_{{static_cast<std::size_t>(counts[0]), static_cast<std::size_t>(counts[1]),
               static_cast<std::size_t>(counts[2])}},
      cells_(layout_.size(), Vec3(0.0F)) {}

Vec3d VectorGrid::middleOf(int x, int y, int z) const {
  return {(x + 0.5) / counts_[0], (y + 0.5) / counts_[1], (z + 0.5) / counts_[2]};
}

Vec3d VectorGrid::sample(const Vec3d& place, Beyond beyond) const {
  if (empty() || !std::isfinite(place.x + place.y + place.z)) return Vec3d(0.0);
  std::array<Between, 3> around;
  for (int axis = 0; axis < 3; ++axis) {
    if (beyond == Beyond::Nothing && !(place[axis] >= 0 && place[axis] <= 1)) return Vec3d(0.0);
    around[axis] = cellsAround(place[axis], counts_[axis], beyond);
  }
  const auto corner = [&](int which) {
    const auto along = [&](int axis) {
      return (which >> axis & 1) != 0 ? around[axis].second : around[axis].first;
    };
    return Vec3d(at(along(0), along(1), along(2)));
  };
  return trilinear(corner, {around[0].fraction, around[1].fraction, around[2].fraction});
}

double VectorGrid::longest() const {
  double longest = 0;
  for (const Vec3& cell : cells_) longest = std::max(longest, static_cast<double>(glm::dot(cell, cell)));
  return std::sqrt(longest);
}

Digest VectorGrid::digest() const {
  Hasher hasher;
  hasher << counts_[0] << counts_[1] << counts_[2];
  hasher.bytes(cells_.data(), cells_.size() * sizeof(Vec3));
  return hasher.digest();
}

}  // namespace comet
