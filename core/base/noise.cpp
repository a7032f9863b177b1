#include "base/noise.h"

#include "base/random.h"

#include <array>
#include <cmath>
#include <glm/common.hpp>

namespace comet {
namespace {

// The product of a lattice point's gradient, one of twelve towards the edges of a cube, and the way from it.
double slopeAt(const Vec3d& corner, const Vec3d& away, std::uint64_t pattern) {
  const auto part = [](double whole) { return static_cast<std::uint64_t>(static_cast<std::int64_t>(whole)); };
  const std::uint64_t hash =
      combineKeys(combineKeys(combineKeys(pattern, part(corner.x)), part(corner.y)), part(corner.z));
  static constexpr std::array<std::array<int, 3>, 12> kEdges{{{1, 1, 0},
                                                              {-1, 1, 0},
                                                              {1, -1, 0},
                                                              {-1, -1, 0},
                                                              {1, 0, 1},
                                                              {-1, 0, 1},
                                                              {1, 0, -1},
                                                              {-1, 0, -1},
                                                              {0, 1, 1},
                                                              {0, -1, 1},
                                                              {0, 1, -1},
                                                              {0, -1, -1}}};
  const auto& edge = kEdges[hash % 12];
  return edge[0] * away.x + edge[1] * away.y + edge[2] * away.z;
}

Vec3d fade(const Vec3d& t) { return t * t * t * (t * (t * 6.0 - 15.0) + 10.0); }

// `latticePoint` says which of the lattice's points stands in for another.
template <typename LatticePoint>
double noiseOver(const Vec3d& place, std::uint64_t pattern, const LatticePoint& latticePoint) {
  const Vec3d corner = glm::floor(place), t = place - corner, weight = fade(t);
  double sum = 0;
  for (int i = 0; i < 8; ++i) {
    const Vec3d step(i & 1, i >> 1 & 1, i >> 2 & 1);
    double fraction = 1;
    for (int axis = 0; axis < 3; ++axis) fraction *= step[axis] > 0 ? weight[axis] : 1 - weight[axis];
    sum += fraction * slopeAt(latticePoint(corner + step), t - step, pattern);
  }
  return sum;
}

}  // namespace

double smoothNoise(const Vec3d& place, std::uint64_t pattern) {
  return noiseOver(place, pattern, [](const Vec3d& point) { return point; });
}

double repeatingNoise(const Vec3d& place, const Vec3d& periods, std::uint64_t pattern) {
  return noiseOver(place, pattern,
                   [&periods](const Vec3d& point) { return point - periods * glm::floor(point / periods); });
}

Vec3d smoothNoise3(const Vec3d& place, std::uint64_t pattern) {
  return {smoothNoise(place, combineKeys(pattern, 1)), smoothNoise(place, combineKeys(pattern, 2)),
          smoothNoise(place, combineKeys(pattern, 3))};
}

}  // namespace comet
