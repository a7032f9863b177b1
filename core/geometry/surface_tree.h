// Where a mesh's surface is: the point nearest to a place, and the first that a way meets.
#pragma once

#include "geometry/mesh.h"

#include <limits>
#include <memory>
#include <optional>

namespace comet {

struct NearestPoint {
  Vec3d at{0.0};
  std::uint32_t triangle = 0;
};

// Of a triangle. Method: Ericson, "Real-Time Collision Detection", 2005, 5.1.5.
Vec3d nearestOnTriangle(const Vec3d& place, const Vec3d& a, const Vec3d& b, const Vec3d& c);

// Built once for a mesh, then asked from any thread. The same on all machines: the library finds the
// triangles that may be nearest, and the points on them are computed here; of equally near triangles the one
// with the lowest number counts.
class SurfaceTree {
 public:
  // The mesh must outlive it. Throws std::bad_alloc.
  explicit SurfaceTree(const Mesh& mesh);
  ~SurfaceTree();
  SurfaceTree(const SurfaceTree&) = delete;
  SurfaceTree& operator=(const SurfaceTree&) = delete;

  // Nothing if there is no surface within a distance.
  std::optional<NearestPoint> nearest(const Vec3d& place,
                                      double within = std::numeric_limits<double>::infinity()) const;

  // The first triangle that a straight way meets, and at which fraction of the way. Nothing if it meets none.
  struct Meeting {
    double fraction = 0;
    std::uint32_t triangle = 0;
  };
  std::optional<Meeting> firstOn(const Vec3d& from, const Vec3d& to) const;

 private:
  struct Tree;
  std::unique_ptr<Tree> tree_;
};

// How many of the mesh's edges go through a triangle that they do not belong to.
std::size_t crossingEdges(const Mesh& mesh, const SurfaceTree& tree);

}  // namespace comet
