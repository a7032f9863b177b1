// Moving points of the scene with the pointer: in the plane through them that faces the viewer, or on a line.
#pragma once

#include "render/camera.h"

#include <QPointF>
#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace comet {

inline QPointF pixel(const Projector::Point& point) { return {point.x, point.y}; }

// Where the ray through a position meets the plane through `through`.
inline Vec3d pointOnFacingPlane(const Projector& projector, const QPointF& position, const Vec3d& through) {
  const Projector::Point middle = projector.project(through);
  Vec3d origin, direction, unused, facing;
  projector.ray(position.x(), position.y(), origin, direction);
  projector.ray(middle.x, middle.y, unused, facing);
  return origin + direction * (glm::dot(through - origin, facing) / glm::dot(direction, facing));
}

// The point of the line through `through` along `axis`, of length one, that is nearest to the ray through a
// position; `through` where the line points at the viewer.
inline Vec3d pointOnLine(const Projector& projector, const QPointF& position, const Vec3d& through,
                         const Vec3d& axis) {
  Vec3d origin, direction;
  projector.ray(position.x(), position.y(), origin, direction);
  const Vec3d between = through - origin;
  const double across = glm::dot(axis, direction);
  const double denominator = 1 - across * across;
  if (denominator < 1e-6) return through;
  return through + axis * ((across * glm::dot(between, direction) - glm::dot(between, axis)) / denominator);
}

// To a thousandth of a unit, which is finer than anyone places things and keeps the numbers readable.
inline Vec3d rounded(const Vec3d& place) { return glm::round(place * 1000.0) / 1000.0; }

}  // namespace comet
