// A scene as the viewport sees it: what is drawn, from where, in which size; and so what the pictures of its
// frames are drawn of and kept under.
#pragma once

#include "render/picture_keys.h"
#include "render/screen_picture.h"
#include "session/background_run.h"
#include "viewport/view_camera.h"

#include <memory>
#include <optional>

namespace comet {

// Immutable; read from any thread.
class ViewedScene {
 public:
  ViewedScene(std::shared_ptr<const PictureKeys> keys, ViewCamera camera, PictureSize size)
      : keys_(std::move(keys)), camera_(std::move(camera)), size_(size) {}

  const Scene& scene() const { return keys_->scene(); }
  // Of one of its pictures, in bytes.
  std::size_t pictureBytes() const;

  struct FrameShot {
    Digest key;
    ScreenShot shot;
  };
  // None while the frame is not simulated.
  std::optional<FrameShot> shotOf(const BackgroundRun& run, int frame) const;
  FrameShot shotOf(const BackgroundRun::Moment& moment, int frame) const;

 private:
  std::shared_ptr<const PictureKeys> keys_;
  ViewCamera camera_;
  PictureSize size_;
};

}  // namespace comet
