// The point of a mesh's surface that is nearest to a place.
#pragma once

#include "geometry/mesh.h"

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
class NearestPoints {
 public:
  // The mesh must outlive it. Throws std::bad_alloc.
  explicit NearestPoints(const Mesh& mesh);
  ~NearestPoints();
  NearestPoints(const NearestPoints&) = delete;
  NearestPoints& operator=(const NearestPoints&) = delete;

  // Nothing for a mesh without triangles.
  std::optional<NearestPoint> of(const Vec3d& place) const;

 private:
  struct Tree;
  std::unique_ptr<Tree> tree_;
};

}  // namespace comet
