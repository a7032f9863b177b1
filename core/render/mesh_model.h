// Meshes as sprites: each particle shows one, as triangles among the other sprites.
#pragma once

#include "geometry/mesh_content.h"
#include "render/sprite.h"

#include <memory>

namespace comet {

// A mesh brought to size for drawing: its middle at zero, its longest side of length one.
class MeshModel {
 public:
  explicit MeshModel(const MeshContent& content);

  std::size_t triangles() const { return faces_.size(); }

  struct Point {
    Vec3d at, normal;
  };
  struct Face {
    Mesh::Triangle points;
    Vec3d normal;
  };
  const std::vector<Point>& points() const { return points_; }
  const std::vector<Face>& faces() const { return faces_; }
  // Of a closed mesh no face is seen from behind.
  bool isClosed() const { return isClosed_; }

 private:
  std::vector<Point> points_;
  std::vector<Face> faces_;
  bool isClosed_;
};

// Kept with the mesh's content.
std::shared_ptr<const MeshModel> modelOf(const MeshContent& content);

}  // namespace comet
