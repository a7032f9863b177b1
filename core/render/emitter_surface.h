// Particles or trails as a closed surface.
#pragma once

#include "base/digest.h"
#include "geometry/round_surface.h"
#include "render/look.h"
#include "render/solid_layer.h"
#include "scene/scene.h"
#include "simulation/frame/scene_frame.h"

#include <map>
#include <memory>

namespace comet {

inline bool hasSurface(const Item& emitter) { return !emitter.chooses("surface", "none"); }
// Whether sprites, trails and links are left out for it.
inline bool isSurfaceAlone(const Item& emitter) {
  return hasSurface(emitter) && emitter.flag("surface_hide_sprites");
}

// What the surface of an emitter lies around at a frame.
std::vector<RoundPiece> surfacePieces(const Scene& scene, const Item& emitter, const SceneFrame& frame,
                                      const Past& past, const Look& look);

// The meshes of emitters' surfaces. Each emitter's last one is kept, for when the same is asked for again: by
// another pass over the same frame, or because only the view has changed.
class EmitterSurfaces {
 public:
  // Throws Error(Budget) that names the emitter if it would need more memory than the scene allows for its
  // frames, and Error(Cancelled).
  std::shared_ptr<const Mesh> of(const Scene& scene, const Item& emitter, const SceneFrame& frame,
                                 const Past& past, const Look& look, const Progress& progress = {});
  // Forgets those of emitters that have none in this scene.
  void keepOnly(const Scene& scene);

 private:
  struct Kept {
    Digest madeFrom;
    std::shared_ptr<const Mesh> mesh;
  };
  std::map<ItemId, Kept> kept_;
};

// The mesh as it is drawn.
Solid surfaceSolid(const Item& emitter, double frame, std::shared_ptr<const Mesh> mesh);

}  // namespace comet
