// Pictures for the screen while a scene is worked on: what is seen in a shot, over the backdrop.
#pragma once

#include "base/progress.h"
#include "cache/picture_cache.h"
#include "render/finish.h"
#include "render/renderer.h"
#include "render/shot.h"
#include "render/stamp_cache.h"

namespace comet {

// The memory that a scene allows for pictures that are kept, in bytes.
std::size_t pictureBudget(const Scene& scene);

struct ScreenShot {
  Shot shot;
  Finish finish;
  bool withBackdrop = true;  // with the picture that stands behind the effect
};

// Drawn with so many times fewer pixels each way and enlarged to the size of the shot. `backdrops` keeps what
// is shown behind. Throws Error(Cancelled).
ScreenPicture drawForScreen(Renderer& renderer, StampCache& backdrops, const ScreenShot& shot, int reduction,
                            const Progress& progress = {});

}  // namespace comet
