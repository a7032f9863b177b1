// What the pictures of a scene are found by: a digest of all that is seen in one.
//
// Where particles and gas are is told by the key of the frame's states; to that come the looks, the camera
// and what is done to the finished picture. Parameters count with their values at the frame, so that a key
// set at another frame leaves a picture as it is.
#pragma once

#include "base/digest.h"
#include "render/camera.h"
#include "render/shot.h"

#include <utility>
#include <vector>

namespace comet {

// What a picture is taken with, beside what the scene says.
struct CameraView {
  Camera camera;
  PictureSize size;
  bool withBackdrop = true;  // with the picture that stands behind the effect
};

// Immutable; read from any thread.
class PictureKeys {
 public:
  // Of a scene with all turned off that is not to be drawn.
  explicit PictureKeys(Scene drawn);

  const Scene& scene() const { return scene_; }

  // `states` is what the frame's states are kept under, `past` how many frames before it are at hand for
  // trails.
  Digest of(int frame, const Digest& states, std::size_t past, const CameraView& view) const;

 private:
  Scene scene_;
  Digest constant_;                                            // of all that is the same in every frame
  std::vector<std::pair<const Item*, std::size_t>> changing_;  // parameters, by their index
};

}  // namespace comet
