#include "geometry/shape_mesh.h"

#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

constexpr int kAround = 48;   // sides of what is round
constexpr int kQuarter = 12;  // pieces of a quarter of a circle

// A quarter of a circle or two about (0, y), from one angle over the horizon to another.
void addArc(std::vector<Vec2d>& outline, double radius, double y, double from, double to) {
  const int pieces = static_cast<int>(std::lround((to - from) / (0.5 * kPi))) * kQuarter;
  for (int i = 0; i <= pieces; ++i) {
    const double angle = from + (to - from) * i / pieces;
    outline.emplace_back(radius * std::cos(angle), y + radius * std::sin(angle));
  }
}

// Outwards from an outline that runs upwards.
Vec2d normalOf(const Vec2d& from, const Vec2d& to) {
  const Vec2d along = to - from;
  return glm::length(along) > 0 ? glm::normalize(Vec2d(along.y, -along.x)) : Vec2d(0.0);
}

}  // namespace

Mesh boxMesh(const Vec3d& half) {
  Mesh mesh;
  for (int axis = 0; axis < 3; ++axis)
    for (const double side : {-1.0, 1.0}) {
      Vec3d normal(0.0), across(0.0), up(0.0);
      normal[axis] = side;
      across[(axis + 1) % 3] = side;
      up[(axis + 2) % 3] = 1;
      const auto first = static_cast<std::uint32_t>(mesh.points.size());
      for (const Vec2d& corner : {Vec2d(-1, -1), Vec2d(1, -1), Vec2d(1, 1), Vec2d(-1, 1)}) {
        mesh.points.emplace_back(half * (normal + across * corner.x + up * corner.y));
        mesh.normals.emplace_back(normal);
      }
      mesh.triangles.push_back({first, first + 1, first + 2});
      mesh.triangles.push_back({first, first + 2, first + 3});
    }
  return mesh;
}

Mesh latheMesh(const std::vector<Vec2d>& outline) {
  Mesh mesh;
  const std::size_t count = outline.size();
  for (std::size_t i = 0; i < count; ++i) {
    Vec2d normal(0.0);
    if (i > 0) normal += normalOf(outline[i - 1], outline[i]);
    if (i + 1 < count) normal += normalOf(outline[i], outline[i + 1]);
    for (int around = 0; around <= kAround; ++around) {
      const double angle = 2 * kPi * around / kAround;
      const Vec3d outward(std::cos(angle), 0, -std::sin(angle));
      mesh.points.emplace_back(outward * outline[i].x + Vec3d(0, outline[i].y, 0));
      mesh.normals.emplace_back(unitOr(outward * normal.x + Vec3d(0, normal.y, 0), Vec3d(0, 1, 0)));
    }
  }
  for (std::uint32_t i = 0; i + 1 < count; ++i)
    for (std::uint32_t around = 0; around < kAround; ++around) {
      const std::uint32_t a = i * (kAround + 1) + around, b = a + 1, c = a + kAround + 1, d = c + 1;
      mesh.triangles.push_back({a, b, d});
      mesh.triangles.push_back({a, d, c});
    }
  return mesh;
}

std::vector<Vec2d> sphereOutline(double radius) {
  std::vector<Vec2d> outline;
  addArc(outline, radius, 0, -0.5 * kPi, 0.5 * kPi);
  return outline;
}

std::vector<Vec2d> cylinderOutline(double radius, double halfHeight) {
  return {{0, -halfHeight},     {radius, -halfHeight}, {radius, -halfHeight},
          {radius, halfHeight}, {radius, halfHeight},  {0, halfHeight}};
}

std::vector<Vec2d> capsuleOutline(double radius, double halfHeight) {
  std::vector<Vec2d> outline;
  addArc(outline, radius, -halfHeight, -0.5 * kPi, 0);
  addArc(outline, radius, halfHeight, 0, 0.5 * kPi);
  return outline;
}

std::vector<Vec2d> discOutline(double radius) { return {{radius, 0}, {0, 0}}; }

}  // namespace comet
