#include "render/mesh_model.h"

#include <algorithm>
#include <glm/geometric.hpp>

namespace comet {

MeshModel::MeshModel(const MeshContent& content) : isClosed_(content.report().isClosed()) {
  const Mesh& mesh = content.mesh();
  const Box box = mesh.bounds();
  const Vec3d extent = box.extent();
  const double longest = std::max({extent.x, extent.y, extent.z, 1e-12});
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    if (glm::length(mesh.areaVector(t)) <= 0) continue;
    Face face;
    face.normal = mesh.faceNormal(t);
    for (int i = 0; i < 3; ++i) {
      face.points[i] = (Vec3d(mesh.points[mesh.triangles[t][i]]) - box.centre()) / longest;
      face.normals[i] = Vec3d(mesh.normals[mesh.triangles[t][i]]);
    }
    faces_.push_back(face);
  }
}

std::shared_ptr<const MeshModel> modelOf(const MeshContent& content) {
  return content.derived<MeshModel>((Hasher() << "model").digest(),
                                    [&content] { return std::make_shared<const MeshModel>(content); });
}

Vec3d SceneLight::on(const Vec3d& normal) const {
  return color * std::max(0.0, glm::dot(normal, towards)) + around;
}

SceneLight sceneLight(const Scene& scene, double frame) {
  const Item& settings = scene.settings();
  SceneLight light;
  light.towards = unitOr(settings.vector("light_from", frame), Vec3d(0, 1, 0));
  light.color = settings.vector("light_color", frame) * settings.number("light_strength", frame);
  light.around = settings.vector("light_around", frame);
  return light;
}

}  // namespace comet
