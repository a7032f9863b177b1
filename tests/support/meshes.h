// Meshes with known measures.
#pragma once

#include "geometry/mesh_content.h"

#include <glm/geometric.hpp>
#include <map>

namespace comet::test {

// A box of these lengths around the origin, faces in the parts "x", "y" and "z" by their normal's axis.
inline Mesh boxMesh(const Vec3d& lengths) {
  Mesh mesh;
  for (int corner = 0; corner < 8; ++corner) {
    const Vec3d signs(corner & 1 ? 0.5 : -0.5, corner & 2 ? 0.5 : -0.5, corner & 4 ? 0.5 : -0.5);
    mesh.points.emplace_back(Vec3(signs * lengths));
    mesh.normals.emplace_back(Vec3(unitOr(signs, Vec3d(0, 1, 0))));
  }
  mesh.partNames = {{"x", ""}, {"y", ""}, {"z", "paint"}};
  const std::uint32_t faces[6][4] = {{0, 4, 6, 2}, {1, 3, 7, 5}, {0, 1, 5, 4},
                                     {2, 6, 7, 3}, {0, 2, 3, 1}, {4, 5, 7, 6}};
  for (std::uint32_t f = 0; f < 6; ++f) {
    mesh.triangles.push_back({faces[f][0], faces[f][1], faces[f][2]});
    mesh.triangles.push_back({faces[f][0], faces[f][2], faces[f][3]});
    mesh.parts.insert(mesh.parts.end(), 2, f / 2);
  }
  return mesh;
}

// A ring with a round tube, about the y axis.
inline Mesh torusMesh(double ring, double tube, int around, int along) {
  Mesh mesh;
  for (int i = 0; i < around; ++i)
    for (int j = 0; j < along; ++j) {
      const double a = 2 * kPi * i / around, b = 2 * kPi * j / along;
      const Vec3d normal(std::cos(a) * std::cos(b), std::sin(b), std::sin(a) * std::cos(b));
      mesh.points.emplace_back(Vec3(Vec3d(std::cos(a) * ring, 0, std::sin(a) * ring) + normal * tube));
      mesh.normals.emplace_back(Vec3(normal));
    }
  const auto at = [&](int i, int j) { return static_cast<std::uint32_t>((i % around) * along + j % along); };
  for (int i = 0; i < around; ++i)
    for (int j = 0; j < along; ++j) {
      mesh.triangles.push_back({at(i, j), at(i, j + 1), at(i + 1, j + 1)});
      mesh.triangles.push_back({at(i, j), at(i + 1, j + 1), at(i + 1, j)});
    }
  mesh.partNames = {{"ring", ""}};
  mesh.parts.assign(mesh.triangles.size(), 0);
  return mesh;
}

// A ball about the origin, its poles on the y axis.
inline Mesh ballMesh(double radius, int around, int along) {
  Mesh mesh;
  for (int j = 0; j <= along; ++j)
    for (int i = 0; i < around; ++i) {
      const double a = 2 * kPi * i / around, b = kPi * j / along;
      const Vec3d normal(std::sin(b) * std::cos(a), std::cos(b), std::sin(b) * std::sin(a));
      mesh.points.emplace_back(Vec3(normal * radius));
      mesh.normals.emplace_back(Vec3(normal));
    }
  const auto at = [&](int i, int j) { return static_cast<std::uint32_t>(j * around + i % around); };
  for (int j = 0; j < along; ++j)
    for (int i = 0; i < around; ++i) {
      if (j > 0) mesh.triangles.push_back({at(i, j), at(i + 1, j), at(i, j + 1)});
      if (j + 1 < along) mesh.triangles.push_back({at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)});
    }
  mesh.partNames = {{"ball", ""}};
  mesh.parts.assign(mesh.triangles.size(), 0);
  return mesh;
}

}  // namespace comet::test
