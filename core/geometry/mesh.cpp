#include "geometry/mesh.h"

#include <algorithm>
#include <glm/geometric.hpp>

namespace comet {
namespace {

using Edge = std::array<std::uint32_t, 2>;

// An entry for each side of each triangle, sorted.
std::vector<Edge> sortedSides(const Mesh& mesh) {
  std::vector<Edge> sides;
  sides.reserve(mesh.triangles.size() * 3);
  for (const Mesh::Triangle& triangle : mesh.triangles)
    for (std::size_t i = 0; i < 3; ++i) {
      const std::uint32_t a = triangle[i], b = triangle[(i + 1) % 3];
      if (a != b) sides.push_back({std::min(a, b), std::max(a, b)});
    }
  std::sort(sides.begin(), sides.end());
  return sides;
}

}  // namespace

bool Mesh::isIn(std::size_t triangle, const std::string& part) const {
  const PartNames& names = partNames[parts[triangle]];
  return names.group == part || names.material == part;
}

std::vector<std::string> Mesh::namesOfParts() const {
  std::vector<std::string> names;
  for (const PartNames& part : partNames)
    for (const std::string& name : {part.group, part.material})
      if (!name.empty() && std::find(names.begin(), names.end(), name) == names.end()) names.push_back(name);
  return names;
}

Vec3d Mesh::areaVector(std::size_t triangle) const {
  const Triangle& corners = triangles[triangle];
  const Vec3d a(points[corners[0]]), b(points[corners[1]]), c(points[corners[2]]);
  return glm::cross(b - a, c - a);
}

Vec3d Mesh::faceNormal(std::size_t triangle) const { return unitOr(areaVector(triangle), Vec3d(0, 1, 0)); }

Box Mesh::bounds() const {
  if (points.empty()) return {};
  Box box{Vec3d(points.front()), Vec3d(points.front())};
  for (const Vec3& point : points) {
    box.min = glm::min(box.min, Vec3d(point));
    box.max = glm::max(box.max, Vec3d(point));
  }
  return box;
}

std::vector<Edge> edgesOf(const Mesh& mesh) {
  std::vector<Edge> edges = sortedSides(mesh);
  edges.erase(std::unique(edges.begin(), edges.end()), edges.end());
  return edges;
}

double volumeOf(const Mesh& mesh) {
  double volume = 0;
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i)
    volume += glm::dot(Vec3d(mesh.points[mesh.triangles[i][0]]), mesh.areaVector(i)) / 6;
  return volume;
}

MeshReport reportOn(const Mesh& mesh) {
  MeshReport report;
  report.points = mesh.points.size();
  report.triangles = mesh.triangles.size();
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i)
    report.degenerate += glm::length(mesh.areaVector(i)) > 0 ? 0 : 1;
  const std::vector<Edge> sides = sortedSides(mesh);
  for (std::size_t i = 0; i < sides.size();) {
    std::size_t end = i + 1;
    while (end < sides.size() && sides[end] == sides[i]) ++end;
    ++report.edges;
    if (end - i == 1) {
      ++report.openEdges;
      report.openAt = 0.5 * (Vec3d(mesh.points[sides[i][0]]) + Vec3d(mesh.points[sides[i][1]]));
    }
    report.crowdedEdges += end - i > 2 ? 1 : 0;
    i = end;
  }
  return report;
}

}  // namespace comet
