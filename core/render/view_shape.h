// Birth shapes that stand in the plane of a picture, for effects that are flat.
#pragma once

#include "render/camera.h"
#include "scene/scene.h"

namespace comet {

// The scene with an emitter's shape rotated so that it faces the viewer, its x to the right in the picture.
Scene withShapeFacing(const Scene& scene, ItemId emitter, const Camera& camera);

// With a rectangle as its shape that fills a picture (width by height `aspect`) of the camera, at the
// distance at which the emitter is at the frame; if that is behind the viewer, where the camera aims. Keys of
// its placement go.
Scene withShapeFilling(const Scene& scene, ItemId emitter, const Camera& camera, double aspect, double frame);

}  // namespace comet
