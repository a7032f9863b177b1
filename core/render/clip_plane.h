// A plane that cuts the scene open in all pictures.
#pragma once

#include "base/vec.h"
#include "scene/scene.h"

#include <glm/geometric.hpp>
#include <limits>
#include <optional>

namespace comet {

struct ClipPlane {
  Vec3d at{0.0};
  Vec3d direction{0, 0, 1};  // of length one, to the side that is not drawn

  // How far a point lies on that side, units; negative on the one that is drawn.
  double beyond(const Vec3d& point) const { return glm::dot(point - at, direction); }

  // Between which distances along a ray what it meets is drawn; empty if the end does not lie behind the
  // beginning.
  struct Span {
    double begin = 0, end = std::numeric_limits<double>::infinity();
  };
  Span drawnAlong(const Vec3d& from, const Vec3d& ray) const;
};

// Of the scene's settings; none while it is off.
std::optional<ClipPlane> clipPlaneOf(const Scene& scene, double frame);

// All of the ray where there is no plane.
inline ClipPlane::Span drawnAlong(const std::optional<ClipPlane>& clip, const Vec3d& from, const Vec3d& ray) {
  return clip ? clip->drawnAlong(from, ray) : ClipPlane::Span();
}

}  // namespace comet
