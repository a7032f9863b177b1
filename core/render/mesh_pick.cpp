#include "render/mesh_pick.h"

#include "geometry/mesh_content.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <glm/matrix.hpp>
#include <limits>

namespace comet {
namespace {

// How far along a ray it meets a triangle (Möller and Trumbore, 1997); infinity if it does not.
double distanceAlong(const Vec3d& from, const Vec3d& direction, const Vec3d& a, const Vec3d& b,
                     const Vec3d& c) {
  constexpr double kNone = std::numeric_limits<double>::infinity();
  const Vec3d ab = b - a, ac = c - a, across = glm::cross(direction, ac);
  const double area = glm::dot(ab, across);
  if (area == 0) return kNone;
  const Vec3d away = from - a;
  const double u = glm::dot(away, across) / area;
  const Vec3d turned = glm::cross(away, ab);
  const double v = glm::dot(direction, turned) / area, t = glm::dot(ac, turned) / area;
  return u >= 0 && v >= 0 && u + v <= 1 && t > 0 ? t : kNone;
}

double distanceAlong(const Item& item, const Mesh& mesh, double frame, const Vec3d& from,
                     const Vec3d& direction) {
  const Mat3d turned = glm::transpose(rotationFromDegrees(item.vector("rotation", frame)));
  const Vec3d scale =
      item.kind->find("scale") ? item.vector("scale", frame) : Vec3d(item.number("mesh_scale", frame));
  const Vec3d start = turned * (from - item.vector("position", frame)) / scale,
              way = turned * direction / scale;
  double nearest = std::numeric_limits<double>::infinity();
  for (const Mesh::Triangle& triangle : mesh.triangles)
    nearest =
        std::min(nearest, distanceAlong(start, way, Vec3d(mesh.points[triangle[0]]),
                                        Vec3d(mesh.points[triangle[1]]), Vec3d(mesh.points[triangle[2]])));
  return nearest;
}

// Null if an emitter could not take it as its shape.
std::shared_ptr<const MeshContent> meshOf(const Item& item) {
  if (!item.enabled || !item.kind->find("shape") || !item.kind->find("mesh") ||
      !item.chooses("shape", "mesh"))
    return nullptr;
  const bool isMeant = item.kind->family() == ItemFamily::Emitter || item.kind->traits().deflects;
  return isMeant ? item.content<MeshContent>("mesh") : nullptr;
}

}  // namespace

std::optional<MeshPick> meshAlong(const Scene& scene, double frame, const Vec3d& from,
                                  const Vec3d& direction) {
  double nearest = std::numeric_limits<double>::infinity();
  MeshPick pick;
  for (const Scene::ItemPtr& item : scene.items()) {
    const auto content = meshOf(*item);
    if (!content) continue;
    const double distance = distanceAlong(*item, content->mesh(), frame, from, direction);
    if (!(distance < nearest)) continue;
    nearest = distance;
    pick = {item->id, from + distance * direction};
  }
  return std::isfinite(nearest) ? std::optional(pick) : std::nullopt;
}

}  // namespace comet
