// Distances to a mesh's surface, stored on a grid: a rough answer at once, where the exact one takes a
// search.
//
// Space as in the mesh's own. Negative within a closed mesh. Immutable once made; read from any thread.
#pragma once

#include "geometry/mesh_sampler.h"
#include "geometry/surface_tree.h"

#include <cmath>
#include <vector>

namespace comet {

class DistanceField {
 public:
  // With so many cells along the longest side of the mesh's box. Without `inside`, nothing is negative. Runs
  // on all threads; throws std::bad_alloc. The mesh has triangles.
  DistanceField(const Mesh& mesh, const SurfaceTree& tree, const VerticalLines* inside, int cells);

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

  // No surface is nearer to a place than this; negative near one.
  double atLeast(const Vec3d& place) const {
    const Vec3d at = (place - least_) * perUnit_ + 0.5;
    if (!(at.x >= 0.5 && at.y >= 0.5 && at.z >= 0.5 && at.x < mostAt_.x && at.y < mostAt_.y &&
          at.z < mostAt_.z))
      return beyond(place).distance;
    const auto x = static_cast<std::size_t>(at.x), y = static_cast<std::size_t>(at.y),
               z = static_cast<std::size_t>(at.z);
    const Vec3d off(at.x - 0.5 - static_cast<double>(x), at.y - 0.5 - static_cast<double>(y),
                    at.z - 0.5 - static_cast<double>(z));
    // What single floats lose.
    constexpr double kRounding = 1 - 1e-6;
    return std::abs(static_cast<double>(values_[(z * countY_ + y) * countX_ + x])) * kRounding -
           std::sqrt(off.x * off.x + off.y * off.y + off.z * off.z) * spacing_;
  }
  // Whether the place lies inside; true only where atLeast is positive.
  bool isInsideAway(const Vec3d& place) const { return at(nodeNear(place)) < 0; }

 private:
  struct Node {
    std::size_t x = 0, y = 0, z = 0;
  };
  // Where a place lies among the grid's points.
  struct Spot {
    const float* corner = nullptr;  // the value at its cell's least corner; null beyond the grid
    Vec3d share{0.0};               // of the cell that lies before it
  };
  Spot spotOf(const Vec3d& place) const;
  float at(const Node& node) const { return values_[(node.z * countY_ + node.y) * countX_ + node.x]; }
  Vec3d placeOf(const Node& node) const;
  Node nodeNear(const Vec3d& place) const;
  Reading beyond(const Vec3d& place) const;

  Box bounds_;                        // of the mesh
  double spacing_ = 1, perUnit_ = 1;  // and how many to a unit
  Vec3d least_{0.0};                  // of the grid
  Vec3d mostAt_{0.0};                 // where it ends, in cells, and a half
  std::size_t countX_ = 0, countY_ = 0, countZ_ = 0;
  std::vector<float> values_;  // x fastest
};

}  // namespace comet
