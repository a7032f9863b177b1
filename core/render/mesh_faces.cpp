#include "render/mesh_faces.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>
#include <limits>

namespace comet {

MeshFaces::Side MeshFaces::offer(const Mesh::Triangle& face, bool isClosed) {
  const MeshCorner &a = corners_[face[0]], &b = corners_[face[1]], &c = corners_[face[2]];
  if (!(a.isSeen && b.isSeen && c.isSeen)) return Side::None;
  // Of the places that are drawn, so that what is drawn has no gaps.
  const Vec2d toB(Vec2(b.drawn) - Vec2(a.drawn)), toC(Vec2(c.drawn) - Vec2(a.drawn));
  const double area = toB.x * toC.y - toB.y * toC.x;
  // Also what is not a number. The picture's y goes down.
  if (!(std::abs(area) > 0) || (area > 0 && isClosed)) return Side::None;
  faces_[seen_.faces++].at = {a.drawn, b.drawn, c.drawn};
  return area < 0 ? Side::Front : Side::Back;
}

bool MeshFaces::finish(Sprite& sprite) const {
  if (seen_.faces == 0) return false;
  Vec2 min(std::numeric_limits<float>::infinity()), max(-std::numeric_limits<float>::infinity());
  for (const MeshCorner& corner : corners_) {
    if (!corner.isSeen) continue;
    min = glm::min(min, Vec2(corner.drawn));
    max = glm::max(max, Vec2(corner.drawn));
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
