// Meshes as sprites: each particle shows one, as triangles among the other sprites.
#pragma once

#include "geometry/mesh_content.h"
#include "render/sprite.h"

#include <limits>
#include <memory>

namespace comet {

// A mesh brought to size for drawing: its middle at zero, its longest side of length one. With it come meshes
// of fewer faces for when it is seen so small that nobody could tell them apart.
class MeshModel {
 public:
  explicit MeshModel(const MeshContent& content);

  struct Point {
    Vec3d at, normal;
  };
  struct Face {
    Mesh::Triangle points;
    Vec3d normal;
  };
  struct Level {
    std::vector<Point> points;
    std::vector<Face> faces;
    double error = 0;  // how far it lies from the mesh itself at most, about
    // Of what size it may be seen, its longest side in pixels.
    double upTo = std::numeric_limits<double>::infinity();
  };

  // How far surfaces may lie from where they are, pixels: less than samples lie from each other.
  static constexpr double kTolerance = 0.15;
  // Faces do not become larger than this, square pixels: light changes from corner to corner.
  static constexpr double kFaceArea = 2;

  // The one with fewest faces that is as good as the mesh itself if its longest side is so many pixels long.
  const Level& levelFor(double pixels) const;
  // The mesh itself, and then ever fewer faces.
  const std::vector<Level>& levels() const { return levels_; }

  // As many as any level has.
  std::size_t triangles() const { return levels_.front().faces.size(); }
  // Of a closed mesh no face is seen from behind.
  bool isClosed() const { return isClosed_; }

 private:
  std::vector<Level> levels_;
  bool isClosed_;
};

// Kept with the mesh's content.
std::shared_ptr<const MeshModel> modelOf(const MeshContent& content);

}  // namespace comet
