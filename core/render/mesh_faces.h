// Faces of a particle's mesh or card on their way into the picture.
#pragma once

#include "geometry/mesh.h"
#include "render/camera.h"
#include "render/sprite.h"

#include <vector>

namespace comet {

// A corner of faces.
struct MeshCorner {
  MeshCorner(const Vec3d& where, const Projector& projector)
      : at(where), place(projector.project(where)), isSeen(projector.visible(place)), drawn(placeOf(place)) {}

  Vec3d at;  // in the scene
  Projector::Point place;
  bool isSeen;
  Vec3 drawn;  // pixels to the right and down, and units along the view

 private:
  static Vec3 placeOf(const Projector::Point& point) { return Vec3(Vec3d(point.x, point.y, point.depth)); }
};

// Collects those that are seen.
class MeshFaces {
 public:
  // There has to be room for as many as will be offered.
  MeshFaces(const std::vector<MeshCorner>& corners, MeshView& seen, MeshFace* faces)
      : corners_(corners), seen_(seen), faces_(faces) {
    seen_.faces = 0;
  }

  enum class Side { None, Front, Back };
  // Offers a face, whose corners run counter-clockwise seen from its front; the back of a closed mesh's is
  // never seen. If it is seen, its light is to be set before the next one is offered.
  Side offer(const Mesh::Triangle& face, bool isClosed);
  // The last one that was seen, and its index.
  MeshFace& last() { return faces_[seen_.faces - 1]; }
  std::size_t lastIndex() const { return seen_.faces - 1; }

  // Sets where the sprite is and how far it reaches; false if nothing is seen.
  bool finish(Sprite& sprite) const;

 private:
  const std::vector<MeshCorner>& corners_;
  MeshView& seen_;
  MeshFace* faces_;
};

}  // namespace comet
