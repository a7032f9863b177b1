#include "render/clip_plane.h"

#include <algorithm>

namespace comet {

ClipPlane::Span ClipPlane::drawnAlong(const Vec3d& from, const Vec3d& ray) const {
  const double start = beyond(from), perUnit = glm::dot(ray, direction);
  Span span;
  if (perUnit > 0) span.end = -start / perUnit;
  if (perUnit < 0) span.begin = std::max(0.0, -start / perUnit);
  if (perUnit == 0 && start > 0) span.end = 0;
  return span;
}

std::optional<ClipPlane> clipPlaneOf(const Scene& scene, double frame) {
  const Item& settings = scene.settings();
  if (!settings.flag("clip")) return std::nullopt;
  return ClipPlane{settings.vector("clip_position", frame),
                   unitOr(settings.vector("clip_direction", frame), Vec3d(0, 0, 1))};
}

}  // namespace comet
