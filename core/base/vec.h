// Vectors and matrices used throughout core.
//
// Space: right-handed, y up. Lengths are in scene units, angles in the scene file in degrees.
#pragma once

#include <glm/gtc/quaternion.hpp>
#include <glm/mat4x4.hpp>
#include <glm/vec2.hpp>
#include <glm/vec3.hpp>
#include <glm/vec4.hpp>

namespace comet {

using Vec2 = glm::vec2;
using Vec3 = glm::vec3;
using Vec4 = glm::vec4;
using Mat4 = glm::mat4;
using Vec2d = glm::dvec2;
using Vec3d = glm::dvec3;
using Mat3d = glm::dmat3;
using Mat4d = glm::dmat4;

constexpr double kPi = 3.14159265358979323846;

inline double radians(double degrees) { return degrees * (kPi / 180.0); }

// The rotation that turns by `degrees.x` about x, then by y about y, then by z about z.
Mat3d rotationFromDegrees(const Vec3d& degrees);

// `direction` at length one; `fallback` where it has no length.
Vec3d unitOr(const Vec3d& direction, const Vec3d& fallback);

// Two directions that make a right-handed frame with `axis` (which has length one).
// Method: Duff et al., "Building an Orthonormal Basis, Revisited", 2017.
void perpendiculars(const Vec3d& axis, Vec3d& first, Vec3d& second);
// A rotation that takes y to `axis` (which has length one).
Mat3d turnedTo(const Vec3d& axis);

}  // namespace comet
