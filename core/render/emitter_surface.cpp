#include "render/emitter_surface.h"

#include "base/error.h"
#include "cache/scene_run.h"
#include "render/trail.h"

namespace comet {

std::vector<RoundPiece> surfacePieces(const Scene& scene, const Item& emitter, const SceneFrame& frame,
                                      const Past& past, const Look& look) {
  std::vector<RoundPiece> pieces;
  const double half = 0.5 * emitter.number("surface_thickness", frame.number) / 100;
  const ParticleGroup* group = frame.particles->find(emitter.id);
  if (!group) return pieces;
  if (emitter.chooses("surface", "particles")) {
    for (std::size_t i = 0; i < group->particles.size(); ++i) {
      const ParticleFacts state = drawnParticle(group->particles, i).state;
      if (const double radius = half * look.diameter(state); radius > 0)
        pieces.push_back({state.position, state.position, radius, radius});
    }
    return pieces;
  }
  if (!Trails::hasAny(emitter)) return pieces;
  const Trails trails(scene, emitter, frame, past, look);
  std::vector<LinePoint> points;
  for (std::size_t t = 0; t < trails.count(); ++t) {
    trails.points(t, points);
    for (std::size_t i = 1; i < points.size(); ++i) {
      const double from = half * points[i - 1].width, to = half * points[i].width;
      if (from > 0 || to > 0) pieces.push_back({points[i - 1].place, points[i].place, from, to});
    }
  }
  return pieces;
}

std::shared_ptr<const Mesh> EmitterSurfaces::of(const Scene& scene, const Item& emitter,
                                                const SceneFrame& frame, const Past& past, const Look& look,
                                                const Progress& progress) {
  const std::vector<RoundPiece> pieces = surfacePieces(scene, emitter, frame, past, look);
  const double voxel = emitter.number("surface_voxel_size", frame.number);
  const int smoothing = emitter.integer("surface_smoothing", frame.number);
  const std::size_t budget = memoryBudget(scene);
  Hasher hasher;
  hasher.bytes(pieces.data(), pieces.size() * sizeof(RoundPiece));
  hasher << voxel << smoothing << budget;
  Kept& kept = kept_[emitter.id];
  if (kept.mesh && kept.madeFrom == hasher.digest()) return kept.mesh;
  // Given up before the next is made: both need not have room.
  kept.mesh.reset();
  try {
    kept.mesh = std::make_shared<const Mesh>(roundSurface(pieces, voxel, smoothing, budget, progress));
  } catch (const Error& error) {
    throw error.within(emitter.name);
  }
  kept.madeFrom = hasher.digest();
  return kept.mesh;
}

void EmitterSurfaces::keepOnly(const Scene& scene) {
  for (auto kept = kept_.begin(); kept != kept_.end();) {
    const Scene::ItemPtr emitter = scene.find(kept->first);
    kept = emitter && emitter->kind->family() == ItemFamily::Emitter && hasSurface(*emitter)
               ? std::next(kept)
               : kept_.erase(kept);
  }
}

Solid surfaceSolid(const Item& emitter, double frame, std::shared_ptr<const Mesh> mesh) {
  Solid solid;
  solid.mesh = std::move(mesh);
  solid.isVisible = true;
  solid.color = emitter.vector("surface_color", frame);
  return solid;
}

}  // namespace comet
