#include "base/vec.h"

#include <cmath>
#include <glm/geometric.hpp>

namespace comet {

Mat3d rotationFromDegrees(const Vec3d& degrees) {
  const double cx = std::cos(radians(degrees.x)), sx = std::sin(radians(degrees.x));
  const double cy = std::cos(radians(degrees.y)), sy = std::sin(radians(degrees.y));
  const double cz = std::cos(radians(degrees.z)), sz = std::sin(radians(degrees.z));
  const Mat3d aboutX(1, 0, 0, 0, cx, sx, 0, -sx, cx);
  const Mat3d aboutY(cy, 0, -sy, 0, 1, 0, sy, 0, cy);
  const Mat3d aboutZ(cz, sz, 0, -sz, cz, 0, 0, 0, 1);
  return aboutZ * aboutY * aboutX;
}

Vec3d unitOr(const Vec3d& direction, const Vec3d& fallback) {
  const double length = glm::length(direction);
  return length > 1e-12 ? direction / length : fallback;
}

void perpendiculars(const Vec3d& axis, Vec3d& first, Vec3d& second) {
  const double sign = std::copysign(1.0, axis.z);
  const double a = -1.0 / (sign + axis.z);
  const double b = axis.x * axis.y * a;
  first = Vec3d(1.0 + sign * axis.x * axis.x * a, sign * b, -sign * axis.x);
  second = Vec3d(b, sign + axis.y * axis.y * a, -axis.y);
}

Mat3d turnedTo(const Vec3d& axis) {
  Vec3d first, second;
  perpendiculars(axis, first, second);
  return Mat3d(second, axis, first);
}

}  // namespace comet
