// Who is near whom: particles sorted into cells, so that those near a place are found without looking at all.
//
// Built once for a frame, then asked from any thread. Neighbours come in an order that depends on the
// particles alone.
#pragma once

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

  std::size_t size() const { return particles_.size(); }

  // Calls visit(particle) for each that may be within the radius of a place; some are farther away.
  template <typename Visit>
  void forNear(const Vec3d& place, const Visit& visit) const {
    if (particles_.empty()) return;
    std::array<std::size_t, 3> from, to;
    for (int axis = 0; axis < 3; ++axis) {
      from[axis] = cellAt(place[axis] - radius_, axis);
      to[axis] = cellAt(place[axis] + radius_, axis);
    }
    for (std::size_t z = from[2]; z <= to[2]; ++z)
      for (std::size_t y = from[1]; y <= to[1]; ++y) {
        const std::size_t row = (z * counts_[1] + y) * counts_[0];
        // The cells of a row lie one after the other.
        for (std::uint32_t i = starts_[row + from[0]]; i < starts_[row + to[0] + 1]; ++i)
          visit(particles_[i]);
      }
  }

 private:
  // Places beyond the grid count to the cells at its edge.
  std::size_t cellAt(double place, int axis) const {
    const double cell = (place - least_[axis]) / cell_;
    return static_cast<std::size_t>(std::clamp(cell, 0.0, static_cast<double>(counts_[axis] - 1)));
  }
  std::size_t cellOf(const Vec3& place) const {
    return (cellAt(place.z, 2) * counts_[1] + cellAt(place.y, 1)) * counts_[0] + cellAt(place.x, 0);
  }

  double radius_, cell_;
  Vec3d least_{0.0};
  std::array<std::size_t, 3> counts_{1, 1, 1};
  std::vector<std::uint32_t> starts_;  // of each cell's particles, and the end of the last
  std::vector<Particle> particles_;    // by cell
};

}  // namespace comet
