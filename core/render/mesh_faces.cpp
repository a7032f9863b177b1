#include "render/mesh_faces.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>
#include <limits>

namespace comet {

MeshFaces::Side MeshFaces::offer(const Mesh::Triangle& face) {
  MeshFace& drawn = faces_[seen_.faces];
  for (std::size_t i = 0; i < 3; ++i) {
    const MeshCorner& corner = corners_[face[i]];
    if (!corner.isSeen) return Side::None;
    drawn.at[i] = Vec3(Vec3d(corner.place.x, corner.place.y, corner.place.depth));
  }
  const Projector::Point &a = corners_[face[0]].place, &b = corners_[face[1]].place,
                         &c = corners_[face[2]].place;
  const double area = (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
  // Also what is not a number.
  if (!(std::abs(area) > 0)) return Side::None;
  ++seen_.faces;
  // The picture's y goes down.
  return area < 0 ? Side::Front : Side::Back;
}

bool MeshFaces::finish(Sprite& sprite) const {
  if (seen_.faces == 0) return false;
  Vec2 min(std::numeric_limits<float>::infinity()), max(-std::numeric_limits<float>::infinity());
  for (std::size_t face = 0; face < seen_.faces; ++face)
    for (const Vec3& at : faces_[face].at) {
      min = glm::min(min, Vec2(at));
      max = glm::max(max, Vec2(at));
    }
  const Vec2 middle = 0.5F * (min + max);
  // Rounding included.
  seen_.reach = 0.5F * (max - min) + 0.5F;
  sprite.x = middle.x;
  sprite.y = middle.y;
  sprite.radius = std::max(kSmallestRadius, std::max(seen_.reach.x, seen_.reach.y));
  return true;
}

}  // namespace comet
