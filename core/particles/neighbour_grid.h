// Who is near whom: particles sorted into cells, so that those near a place are found without looking at all.
//
// Built once for a frame, then asked from any thread. Neighbours come in an order that depends on the
// particles alone.
#pragma once

#include "base/random.h"
#include "particles/particle_store.h"

#include <algorithm>
#include <array>
#include <cstdint>
#include <vector>

namespace comet {

class NeighbourGrid {
 public:
  struct Particle {
    Vec3 position{0.0F}, velocity{0.0F};
    ParticleId id = 0;
  };

  // For questions about places no farther than `radius` away, which is more than 0.
  NeighbourGrid(const std::vector<const ParticleStore*>& stores, double radius);

  // By cell. Each array has room for a whole vector behind its last entry.
  struct Arrays {
    std::array<std::vector<float>, 3> position, velocity;
    std::vector<ParticleId> ids;
    std::vector<std::uint32_t> marks;  // markOf the ids
  };
  const Arrays& arrays() const { return arrays_; }
  // By which a particle can be told from its neighbours in 32 bits; of two that are near each other, nearly
  // always different.
  static std::uint32_t markOf(ParticleId id) { return static_cast<std::uint32_t>(mixBits(id)); }

  std::size_t size() const { return arrays_.ids.size(); }

  // The number of the cell at a place; 0 if there are no particles.
  std::size_t cellAt(const Vec3d& place) const { return size() > 0 ? cellOf(place) : 0; }

  // Calls visit(first, last) for each run of entries of the arrays that may be within the radius of a place;
  // some are farther away.
  template <typename Visit>
  void forRows(const Vec3d& place, const Visit& visit) const {
    if (size() == 0) return;
    std::array<std::size_t, 3> from, to;
    for (int axis = 0; axis < 3; ++axis) {
      from[axis] = stepAt(place[axis] - radius_, axis);
      to[axis] = stepAt(place[axis] + radius_, axis);
    }
    for (std::size_t z = from[2]; z <= to[2]; ++z)
      for (std::size_t y = from[1]; y <= to[1]; ++y) {
        const std::size_t row = (z * counts_[1] + y) * counts_[0];
        // The cells of a row lie one after the other.
        const std::uint32_t first = starts_[row + from[0]], last = starts_[row + to[0] + 1];
        if (first < last) visit(std::size_t{first}, std::size_t{last});
      }
  }

  // Calls visit(particle) for each of them.
  template <typename Visit>
  void forNear(const Vec3d& place, const Visit& visit) const {
    forRows(place, [&](std::size_t first, std::size_t last) {
      for (std::size_t i = first; i < last; ++i)
        visit(Particle{tripleAt(arrays_.position, i), tripleAt(arrays_.velocity, i), arrays_.ids[i]});
    });
  }

 private:
  static Vec3 tripleAt(const std::array<std::vector<float>, 3>& values, std::size_t i) {
    return {values[0][i], values[1][i], values[2][i]};
  }
  // Places beyond the grid count to the cells at its edge.
  std::size_t stepAt(double place, int axis) const {
    const double cell = (place - least_[axis]) / cell_;
    return static_cast<std::size_t>(std::clamp(cell, 0.0, static_cast<double>(counts_[axis] - 1)));
  }
  std::size_t cellOf(const Vec3d& place) const {
    return (stepAt(place.z, 2) * counts_[1] + stepAt(place.y, 1)) * counts_[0] + stepAt(place.x, 0);
  }

  void setCells(const std::vector<const ParticleStore*>& stores, std::size_t count);
  void put(const ParticleStore& store, std::size_t index, std::size_t target);

  double radius_, cell_;
  Vec3d least_{0.0};
  std::array<std::size_t, 3> counts_{1, 1, 1};
  std::vector<std::uint32_t> starts_;  // of each cell's particles, and the end of the last
  Arrays arrays_;
};

}  // namespace comet
