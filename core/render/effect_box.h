// Where an effect is, and a view that shows all of it.
#pragma once

#include "geometry/mesh.h"
#include "render/camera.h"
#include "scene/scene.h"
#include "simulation/frame/scene_frame.h"

#include <optional>

namespace comet {

// Around the particles of all emitters that are on, with their sizes, and around the boxes of gases that are;
// of one item, if it is named: around its particles or its box, or around the place of any other. Of many
// particles, the few farthest off on each side do not count. Nothing if there is nothing to be seen.
std::optional<Box> effectBox(const Scene& scene, const SceneFrame& frame, ItemId only = 0);

// The camera, moved so that the box fills a picture of this shape (width by height) up to a margin. It goes
// on looking the same way.
Camera fittedTo(const Box& box, Camera camera, double aspect);

}  // namespace comet
