#include "render/camera_picture.h"

#include "render/trail.h"

namespace comet {

Picture cameraPicture(Renderer& renderer, SceneRun& run, int frame, PictureSize size,
                      const Progress& progress) {
  const Scene& scene = run.scene();
  Past past = run.past(frame, pastNeeded(scene, frame), progress);
  return renderer.draw({scene, *run.frame(frame, progress), std::move(past), cameraOf(scene, frame), size},
                       finishOf(scene.camera(), frame), progress);
}

}  // namespace comet
