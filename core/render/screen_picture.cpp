#include "render/screen_picture.h"

#include "base/enlarged.h"
#include "render/backdrop.h"
#include "render/view_transform.h"

#include <algorithm>

namespace comet {

std::size_t pictureBudget(const Scene& scene) {
  return static_cast<std::size_t>(scene.settings().number("picture_cache", 0)) << 20;
}

ScreenPicture drawForScreen(Renderer& renderer, StampCache& backdrops, const ScreenShot& shot, int reduction,
                            const Progress& progress) {
  Shot reduced = shot.shot;
  reduced.size = {std::max(1, reduced.size.width / reduction), std::max(1, reduced.size.height / reduction)};
  const auto [width, height] = reduced.size;
  const int frame = reduced.frame.number;
  const Picture picture = renderer.draw(std::move(reduced), shot.finish, progress);
  const Picture ground = drawBackdrop(shot.shot.scene, frame, width, height, shot.withBackdrop, backdrops);
  Picture all = over(picture, ground);
  if (reduction > 1) all = enlarged(all, shot.shot.size.width, shot.shot.size.height);
  // The ground is opaque: there is nothing behind it.
  return {all.width(), all.height(), screenPixels(all, Vec3(0)), renderer.leftOut()};
}

}  // namespace comet
