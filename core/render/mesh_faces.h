// Faces of a particle's mesh or card on their way into the picture.
#pragma once

#include "geometry/mesh.h"
#include "render/camera.h"
#include "render/sprite.h"

#include <vector>

namespace comet {

// A corner of faces.
struct MeshCorner {
  Vec3d at{0.0};  // in the scene
  Projector::Point place;
  bool isSeen = false;
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
  // Offers a face, whose corners run counter-clockwise seen from its front. If it is seen, from either side,
  // its light is to be set before the next one is offered.
  Side offer(const Mesh::Triangle& face);
  // The last one that was seen, and its index.
  MeshFace& last() { return faces_[seen_.faces - 1]; }
  std::size_t lastIndex() const { return seen_.faces - 1; }
  // Takes that one back.
  void drop() { --seen_.faces; }

  // Sets where the sprite is and how far it reaches; false if nothing is seen.
  bool finish(Sprite& sprite) const;

 private:
  const std::vector<MeshCorner>& corners_;
  MeshView& seen_;
  MeshFace* faces_;
};

}  // namespace comet
