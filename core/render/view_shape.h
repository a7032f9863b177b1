// Birth shapes that stand in the plane of a picture, for effects that are flat.
#pragma once

#include "render/camera.h"
#include "scene/item.h"

namespace comet {

// The emitter with its shape rotated so that it faces the viewer, its x to the right in the picture. Keys of
// its rotation go.
Item withShapeFacing(Item emitter, const Camera& camera);

// The emitter with a rectangle as its shape that fills a picture (width by height `aspect`) of the camera, at
// the distance at which the emitter is at the frame; if that is behind the viewer, where the camera aims.
// Keys of its placement go.
Item withShapeFilling(Item emitter, const Camera& camera, double aspect, double frame);

}  // namespace comet
