// Who is near whom: particles sorted into cells, so that those near a place are found without looking at all.
//
// Built once for a frame, then asked from any thread. Neighbours come in an order that depends on the
// particles alone.
#pragma once

#include "base/grid.h"
#include "base/random.h"
#include "base/untouched.h"
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

  // For questions about places no farther than `radius` away, which is more than 0. Particles are where their
  // velocities take them in `ahead` seconds.
  NeighbourGrid(const std::vector<const ParticleStore*>& stores, double radius, double ahead = 0);

  // By cell.
  struct Arrays {
    std::array<UntouchedVector<float>, 3> position, velocity;
    UntouchedVector<ParticleId> ids;
    UntouchedVector<std::uint32_t> marks;    // markOf the ids
    UntouchedVector<std::uint32_t> indices;  // in their stores
  };
  const Arrays& arrays() const { return arrays_; }
  // By which a particle can be told from its neighbours in 32 bits; of two that are near each other, nearly
  // always different.
  static std::uint32_t markOf(ParticleId id) { return static_cast<std::uint32_t>(mixBits(id)); }

  std::size_t size() const { return arrays_.ids.size(); }

  // The number of the cell at a place; 0 if there are no particles.
  std::size_t cellAt(const Vec3d& place) const { return size() > 0 ? cellOf(place) : 0; }

  // How many are an emitter's.
  std::size_t countOf(std::uint32_t emitter) const;
  // An entry of the arrays.
  Particle particle(std::size_t i) const {
    return {tripleAt(arrays_.position, i), tripleAt(arrays_.velocity, i), arrays_.ids[i]};
  }

  // Calls visit(first, last) for each run of entries of the arrays that may be within the radius of any place
  // in a box; some are farther away.
  template <typename Visit>
  void forRows(const Vec3d& min, const Vec3d& max, const Visit& visit) const {
    if (size() == 0) return;
    std::array<std::size_t, 3> from, to;
    for (int axis = 0; axis < 3; ++axis) {
      from[axis] = stepAt(min[axis] - radius_, axis);
      to[axis] = stepAt(max[axis] + radius_, axis);
    }
    for (std::size_t z = from[2]; z <= to[2]; ++z)
      for (std::size_t y = from[1]; y <= to[1]; ++y) {
        const std::size_t row = layout_.index(0, y, z);
        // The cells of a row lie one after the other.
        const std::uint32_t first = starts_[row + from[0]], last = starts_[row + to[0] + 1];
        if (first < last) visit(std::size_t{first}, std::size_t{last});
      }
  }

  // Calls visit(particle) for each of them.
  template <typename Visit>
  void forNear(const Vec3d& place, const Visit& visit) const {
    forRows(place, place, [&](std::size_t first, std::size_t last) {
      for (std::size_t i = first; i < last; ++i) visit(particle(i));
    });
  }

 private:
  static Vec3 tripleAt(const std::array<UntouchedVector<float>, 3>& values, std::size_t i) {
    return {values[0][i], values[1][i], values[2][i]};
  }
  // Places beyond the grid count to the cells at its edge.
  std::size_t stepAt(double place, int axis) const {
    const double cell = (place - min_[axis]) * perUnit_[axis];
    return static_cast<std::size_t>(std::clamp(cell, 0.0, static_cast<double>(layout_.counts[axis] - 1)));
  }
  std::size_t cellOf(const Vec3d& place) const {
    return layout_.index(stepAt(place.x, 0), stepAt(place.y, 1), stepAt(place.z, 2));
  }

  // Rounded as it is kept.
  Vec3d placeOf(const ParticleStore& store, std::size_t index) const {
    return Vec3d(Vec3(store.position(index) + store.velocity(index) * ahead_));
  }
  // A run of a store's particles, and where they come when all stores are put one after the other.
  struct Source {
    const ParticleStore* store;
    std::size_t first, count, target;
  };
  // Returns how far particles are spread.
  Vec3d setMin(const std::vector<Source>& sources);
  void setCells(const Vec3d& extent, std::size_t count);
  // Fills the arrays; `sorted` are places among all sources.
  void gather(const std::vector<Source>& sources, const UntouchedVector<std::uint32_t>& sorted);

  double radius_, ahead_;
  Vec3d min_{0.0}, perUnit_{1.0};      // cells along each axis
  GridLayout layout_{{1, 1, 1}};       // of cells
  std::vector<std::uint32_t> starts_;  // of each cell's particles, and the end of the last
  Arrays arrays_;
};

}  // namespace comet
