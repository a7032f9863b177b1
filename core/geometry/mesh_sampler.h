// Points on and in meshes, chosen by numbers.
//
// Built once for a mesh and a choice of its parts, then asked from any thread.
#pragma once

#include "geometry/mesh.h"

#include <memory>
#include <vector>

namespace comet {

enum class MeshPlace { Vertices, Edges, Surface, Inside, Facing };

// Where on a mesh births are wanted.
struct MeshRegion {
  MeshPlace place = MeshPlace::Surface;
  std::string part;          // a group or material; empty for the whole mesh
  Vec3d facing{0, 1, 0};     // of length one
  double facingAngle = 0.5;  // Facing: faces whose normal is at most this far from `facing`, radians
};

struct SurfacePoint {
  Vec3d at{0.0};
  Vec3d normal{0, 1, 0};
};

// Which parts of the vertical line through (x, z) lie inside a closed mesh, by counting crossings.
class VerticalLines {
 public:
  explicit VerticalLines(const Mesh& mesh);

  // The heights at which the line enters and leaves the mesh, in rising order. A line exactly through an edge
  // counts one of the edge's sides, so that the heights stay paired.
  void crossings(double x, double z, std::vector<double>& heights) const;
  bool isInside(const Vec3d& point) const;

 private:
  std::size_t cellOf(double x, double z) const;

  const Mesh& mesh_;
  Box bounds_;
  std::size_t across_ = 1;  // cells along x and along z
  std::vector<std::uint32_t> starts_, triangles_;
};

class MeshSampler {
 public:
  // The mesh must outlive the sampler. A region that the mesh lacks (no such part, no faces, no closed
  // inside) leaves the sampler empty.
  MeshSampler(const Mesh& mesh, const MeshRegion& region, bool isClosed);

  bool isEmpty() const { return cumulative_.empty() && !lines_; }

  // How many vertices, edges or faces there are to pick from; 0 for an inside.
  std::size_t elements() const { return elements_.size(); }

  // A point for three numbers in [0, 1): uniform over the vertices, edge lengths, area or volume for uniform
  // numbers. `more` gives further uniform numbers, by a counter, for choices that may have to be made again.
  template <typename More>
  SurfacePoint pick(const Vec3d& numbers, const More& more) const {
    if (!lines_) return pickOnSurface(numbers);
    SurfacePoint point;
    for (std::uint32_t attempt = 0; attempt < kMaxAttempts; ++attempt)
      if (pickInside(attempt == 0 ? numbers : more(attempt), point)) return point;
    return point;
  }

 private:
  // A line through the box of a mesh meets it often enough that this many in vain are not seen in practice.
  static constexpr std::uint32_t kMaxAttempts = 1000;

  SurfacePoint pickOnSurface(const Vec3d& numbers) const;
  bool pickInside(const Vec3d& numbers, SurfacePoint& point) const;
  void addElement(std::uint32_t element, double weight);

  const Mesh& mesh_;
  MeshPlace place_;
  std::vector<std::array<std::uint32_t, 2>> edges_;
  std::vector<std::uint32_t> elements_;  // vertices, edges or triangles
  std::vector<double> cumulative_;       // of their weights
  std::unique_ptr<const VerticalLines> lines_;
  Box bounds_;
};

}  // namespace comet
