// A mesh that a scene uses, with what is needed to give births on it.
#pragma once

#include "geometry/distance_field.h"
#include "geometry/mesh_sampler.h"
#include "geometry/surface_tree.h"
#include "params/file_ref.h"

namespace comet {

class MeshContent : public FileContent {
 public:
  explicit MeshContent(Mesh mesh);

  const Mesh& mesh() const { return mesh_; }
  const MeshReport& report() const { return report_; }

  Digest digest() const override { return digest_; }
  std::string summary() const override;

  // The mesh must outlive it.
  std::shared_ptr<const MeshSampler> sampler(const MeshRegion& region) const;
  // To tell inside from outside. Null if the mesh is not closed.
  std::shared_ptr<const VerticalLines> insideTest() const;
  std::shared_ptr<const SurfaceTree> surfaceTree() const;
  // Null if the mesh has no triangles.
  std::shared_ptr<const DistanceField> distanceField(int cells, const Progress& progress = {}) const;
  // How many of its edges go through another of its faces.
  std::size_t selfCrossings() const;

 private:
  Mesh mesh_;
  MeshReport report_;
  Digest digest_;
};

}  // namespace comet
