#include "render/mesh_model.h"

#include <algorithm>
#include <glm/geometric.hpp>

namespace comet {

MeshModel::MeshModel(const MeshContent& content) : isClosed_(content.report().isClosed()) {
  const Mesh& mesh = content.mesh();
  const Box box = mesh.bounds();
  const Vec3d extent = box.extent();
  const double longest = std::max({extent.x, extent.y, extent.z, 1e-12});
  for (std::size_t i = 0; i < mesh.points.size(); ++i)
    points_.push_back({(Vec3d(mesh.points[i]) - box.centre()) / longest, Vec3d(mesh.normals[i])});
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
    if (glm::length(mesh.areaVector(t)) > 0) faces_.push_back({mesh.triangles[t], mesh.faceNormal(t)});
}

std::shared_ptr<const MeshModel> modelOf(const MeshContent& content) {
  return content.derived<MeshModel>((Hasher() << "model").digest(),
                                    [&content] { return std::make_shared<const MeshModel>(content); });
}

}  // namespace comet
