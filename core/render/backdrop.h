// What stands behind the effect while it is worked on, and is never baked: a colour, and a picture to place
// it by.
#pragma once

#include "base/picture.h"
#include "io/picture_content.h"
#include "render/stamp_cache.h"
#include "scene/scene.h"

namespace comet {

// The parameters, for the camera.
std::vector<ParamSpec> backdropParams();

// Whether the scene has a picture there.
bool hasBackdrop(const Scene& scene);

// The colour behind everything, in linear light.
Vec3 backgroundColor(const Scene& scene, int frame);

// The scene's picture in one of the given size, which is transparent around it. It stands still before the
// camera: at a scale of 100 % it is as high as the result. Wants hasBackdrop().
Picture drawBackdrop(const Scene& scene, int frame, int width, int height, StampCache& stamps);

// `picture` over another one of the same size.
Picture over(Picture picture, const Picture& ground);

}  // namespace comet
