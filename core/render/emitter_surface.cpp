#include "render/emitter_surface.h"

#include "base/error.h"
#include "cache/scene_run.h"
#include "render/trail.h"

namespace comet {

std::vector<RoundPiece> surfacePieces(const Scene& scene, const Item& emitter, const ParticleFrame& frame,
                                      const Past& past, const Look& look) {
  std::vector<RoundPiece> pieces;
  const double half = 0.5 * emitter.number("surface_thickness", frame.frame) / 100;
  const ParticleGroup* group = frame.find(emitter.id);
  if (!group) return pieces;
  if (emitter.chooses("surface", "particles")) {
    for (std::size_t i = 0; i < group->particles.size(); ++i) {
      const ParticleState state = drawnParticle(group->particles, i).state;
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

Mesh emitterSurface(const Scene& scene, const Item& emitter, const ParticleFrame& frame, const Past& past,
                    const Look& look) {
  try {
    return roundSurface(surfacePieces(scene, emitter, frame, past, look),
                        emitter.number("surface_voxel", frame.frame),
                        emitter.integer("surface_smoothing", frame.frame), memoryBudget(scene));
  } catch (const Error& error) {
    throw error.within(emitter.name);
  }
}

Solid surfaceSolid(const Item& emitter, double frame, Mesh mesh) {
  Solid solid;
  solid.mesh = std::make_shared<const Mesh>(std::move(mesh));
  solid.isVisible = true;
  solid.color = emitter.vector("surface_color", frame);
  return solid;
}

}  // namespace comet
