// Particles or trails as a closed surface.
#pragma once

#include "geometry/round_surface.h"
#include "particles/particle_frame.h"
#include "render/look.h"
#include "render/solid_layer.h"
#include "scene/scene.h"

namespace comet {

inline bool hasSurface(const Item& emitter) { return !emitter.chooses("surface", "none"); }
// Whether sprites, trails and links are left out for it.
inline bool isSurfaceAlone(const Item& emitter) {
  return hasSurface(emitter) && emitter.flag("surface_alone");
}

// What the surface of an emitter lies around at a frame.
std::vector<RoundPiece> surfacePieces(const Scene& scene, const Item& emitter, const ParticleFrame& frame,
                                      const Past& past, const Look& look);

// The mesh of an emitter's surface. Throws Error(Budget) that names the emitter if it would need more memory
// than the scene allows for its frames.
Mesh emitterSurface(const Scene& scene, const Item& emitter, const ParticleFrame& frame, const Past& past,
                    const Look& look);

// The mesh as it is drawn.
Solid surfaceSolid(const Item& emitter, double frame, Mesh mesh);

}  // namespace comet
