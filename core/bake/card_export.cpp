#include "bake/card_export.h"

#include "render/look.h"

#include <utility>

namespace comet {
namespace {

void addCards(const Scene& scene, const Item& emitter, const SceneFrame& frame, MeshFrame& all) {
  const ParticleGroup* group = frame.particles->find(emitter.id);
  if (!group || !emitter.enabled || !showsCards(emitter)) return;
  StampCache stamps;
  const Look look(scene, emitter, frame.number, stamps);
  const CardGrid& grid = look.cards()->rule().grid();
  const std::vector<Mesh::Triangle> faces = cardTriangles(grid);
  std::vector<CardPoint> points;
  for (std::size_t i = 0; i < group->particles.size(); ++i) {
    const DrawnParticle particle = drawnParticle(group->particles, i);
    look.cards()->shape(particle, look.diameter(particle.state), points);
    const auto first = static_cast<std::uint32_t>(all.points.size());
    const Vec3 color(look.color(particle.state, particle.state.age));
    for (std::size_t point = 0; point < points.size(); ++point) {
      all.points.emplace_back(points[point].at);
      all.normals.emplace_back(points[point].normal);
      all.velocities.emplace_back(points[point].velocity);
      all.colors.push_back(color);
      all.spots.push_back(pictureSpot(grid, point));
    }
    for (Mesh::Triangle face : faces) {
      for (std::uint32_t& corner : face) corner += first;
      all.triangles.push_back(face);
    }
  }
}

}  // namespace

MeshFrame cardsOf(const Scene& scene, const Item& emitter, const SceneFrame& frame) {
  MeshFrame all;
  all.frame = frame.number;
  addCards(scene, emitter, frame, all);
  return all;
}

MeshFrame cardsOf(const Scene& scene, const SceneFrame& frame) {
  MeshFrame all;
  all.frame = frame.number;
  for (const Scene::ItemPtr& emitter : scene.itemsOf(ItemFamily::Emitter))
    addCards(scene, *emitter, frame, all);
  return all;
}

Mesh meshOf(MeshFrame cards) {
  Mesh mesh;
  mesh.points = std::move(cards.points);
  mesh.normals = std::move(cards.normals);
  mesh.triangles = std::move(cards.triangles);
  return mesh;
}

}  // namespace comet
