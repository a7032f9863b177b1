// Cards as data.
#pragma once

#include "geometry/mesh.h"
#include "io/usd_mesh.h"
#include "scene/scene.h"
#include "simulation/frame/scene_frame.h"

namespace comet {

// The cards of an emitter as one mesh, each with all of its points, in the order of their births; as they are
// shown, in the colours of their fronts.
MeshFrame cardsOf(const Scene& scene, const Item& emitter, const SceneFrame& frame);

// The cards of all emitters that show any.
MeshFrame cardsOf(const Scene& scene, const SceneFrame& frame);

// What of that a mesh's file holds.
Mesh meshOf(MeshFrame cards);

}  // namespace comet
