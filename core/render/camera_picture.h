// A frame of a scene as the scene's camera sees it.
#pragma once

#include "base/progress.h"
#include "cache/scene_run.h"
#include "render/renderer.h"

namespace comet {

// Finished as the camera says. Throws as SceneRun::frame does.
Picture cameraPicture(Renderer& renderer, SceneRun& run, int frame, PictureSize size,
                      const Progress& progress = {});

}  // namespace comet
