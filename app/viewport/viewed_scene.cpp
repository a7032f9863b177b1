#include "viewport/viewed_scene.h"

#include "render/trail.h"

namespace comet {

std::size_t ViewedScene::pictureBytes() const {
  return sizeof(std::uint32_t) * static_cast<std::size_t>(size_.width) *
         static_cast<std::size_t>(size_.height);
}

std::optional<ViewedScene::FrameShot> ViewedScene::shotOf(const BackgroundRun& run, int frame) const {
  const auto moment = run.moment(frame, pastNeeded(scene(), frame));
  if (!moment) return std::nullopt;
  return shotOf(*moment, frame);
}

ViewedScene::FrameShot ViewedScene::shotOf(const BackgroundRun::Moment& moment, int frame) const {
  const bool isCameras = camera_.kind() == ViewKind::Camera;
  const CameraView view{camera_.camera(scene(), frame), size_, isCameras};
  return {keys_->of(frame, moment.key, moment.past.size(), view),
          {{scene(), *moment.frame, moment.past, view.camera, size_, 1, RenderPurpose::Viewport},
           finishOf(scene().camera(), frame),
           isCameras}};
}

}  // namespace comet
