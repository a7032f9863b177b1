// Distances to a mesh's surface, stored on a grid: a rough answer at once, where the exact one takes a
// search.
//
// Space as in the mesh's own. Negative within a closed mesh. Immutable once made; read from any thread.
#pragma once

#include "base/grid.h"
#include "base/progress.h"
#include "geometry/mesh_sampler.h"
#include "geometry/surface_tree.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <vector>

namespace comet {

class DistanceField {
 public:
  // With so many cells along the longest side of the mesh's box. Without `inside`, nothing is negative. Runs
  // on all threads; throws std::bad_alloc. The mesh has triangles.
  DistanceField(const Mesh& mesh, const SurfaceTree& tree, const VerticalLines* inside, int cells,
                const Progress& progress);

  // What it takes in memory.
  static std::size_t bytesFor(const Mesh& mesh, int cells);

  // The length of a cell's edges.
  double spacing() const { return spacing_; }

  struct Reading {
    double distance = 0;
    Vec3d gradient{0, 1, 0};  // of length one
  };
  // The distance between grid points is interpolated linearly along each axis, so that it is off by less than
  // a cell, and not at all beside what is flat. It changes by at most kSteepest for each unit of way. Beyond
  // the grid it is the distance to the mesh's box.
  Reading at(const Vec3d& place) const;
  // The same without its gradient.
  double distanceAt(const Vec3d& place) const;
  static constexpr double kSteepest = 1.7320508075688772;  // √3: along each axis by one

  // What a place is known to be from one value of the grid, in single floats: away from the surface by more
  // than `range`, on one side or the other, or perhaps near it.
  enum class Whereabouts : std::uint8_t { Near, Outside, Inside };
  struct Place {
    float x, y, z, range;
  };
  Whereabouts about(const Place& place) const { return judged(place, values_[indexNear(place)]); }
  // The same for many, much sooner than one by one.
  struct Places {
    const float *x, *y, *z, *range;
    std::size_t count;

    Place operator[](std::size_t i) const { return {x[i], y[i], z[i], range[i]}; }
  };
  void about(const Places& places, Whereabouts* whereabouts) const;

 private:
  // Where a place lies among the grid's points.
  struct Spot {
    const float* corner = nullptr;  // the value at its cell's least corner; null beyond the grid
    Vec3d fraction{0.0};            // of the cell that lies before it
  };
  Spot spotOf(const Vec3d& place) const;
  // The nearest grid point, as whole numbers, and as an index.
  Vec3 nodeNear(const Place& place) const {
    const auto along = [this](float at, int axis) {
      const float node = (at - rough_.first[axis]) * rough_.perUnit + 0.5F;
      return static_cast<float>(static_cast<int>(std::clamp(node, 0.0F, rough_.last[axis])));
    };
    return {along(place.x, 0), along(place.y, 1), along(place.z, 2)};
  }
  std::uint32_t indexNear(const Place& place) const {
    const Vec3 node = nodeNear(place);
    const auto whole = [](float number) { return static_cast<std::uint32_t>(static_cast<int>(number)); };
    return static_cast<std::uint32_t>(layout_.index(whole(node.x), whole(node.y), whole(node.z)));
  }
  // From the value there. Without branches, which would go either way.
  Whereabouts judged(const Place& place, float value) const {
    const float beyond = std::max(std::max(std::max(rough_.min[0] - place.x, place.x - rough_.max[0]),
                                           std::max(rough_.min[1] - place.y, place.y - rough_.max[1])),
                                  std::max(rough_.min[2] - place.z, place.z - rough_.max[2]));
    const Vec3 node = nodeNear(place);
    const float dx = place.x - rough_.first[0] - node.x * rough_.spacing,
                dy = place.y - rough_.first[1] - node.y * rough_.spacing,
                dz = place.z - rough_.first[2] - node.z * rough_.spacing;
    constexpr float kRounding = 1e-6F;
    const float spare = std::abs(value) * (1 - kRounding) - rough_.slack - place.range;
    const bool isAway = (spare > 0) & (spare * spare > dx * dx + dy * dy + dz * dz);
    const bool isBeyond = beyond > place.range;
    const int side = 1 + static_cast<int>((value < 0) & !isBeyond);
    return static_cast<Whereabouts>(static_cast<int>(isAway | isBeyond) * side);
  }
  Reading beyond(const Vec3d& place) const;

  Box bounds_;                        // of the mesh
  double spacing_ = 1, perUnit_ = 1;  // and how many to a unit
  Vec3d min_{0.0};                    // of the grid
  Vec3d lastAt_{0.0};                 // its last point, in cells from the first
  GridLayout layout_;
  // The same in single floats: the mesh's box, the first grid point, the last's indices.
  struct Rough {
    float min[3], max[3], first[3], last[3];
    float spacing, perUnit;
    float slack;  // what rounding may do to a place
  };
  Rough rough_{};
  std::vector<float> values_;
};

}  // namespace comet
