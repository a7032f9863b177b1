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

// An opaque picture of the given size. The backdrop stands still before the camera: at a scale of 100 % it is
// as high as the picture. `withPicture` is false for views that are not the camera's.
Picture drawBackdrop(const Scene& scene, int frame, int width, int height, bool withPicture,
                     StampCache& stamps);

// `picture` over an opaque one of the same size.
Picture over(const Picture& picture, const Picture& ground);

}  // namespace comet
