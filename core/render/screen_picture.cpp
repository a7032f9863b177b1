#include "render/screen_picture.h"

#include "base/enlarged.h"
#include "render/backdrop.h"
#include "render/view_transform.h"

#include <algorithm>
#include <utility>

namespace comet {

std::size_t pictureBudget(const Scene& scene) {
  return static_cast<std::size_t>(scene.settings().number("picture_cache", 0)) << 20;
}

ScreenPicture drawForScreen(Renderer& renderer, StampCache& backdrops, const ScreenShot& shot, int reduction,
                            const Progress& progress) {
  const Scene& scene = shot.shot.scene;
  const auto [width, height] = shot.shot.size;
  Shot reduced = shot.shot;
  reduced.size = {std::max(1, width / reduction), std::max(1, height / reduction)};
  const PictureSize size = reduced.size;
  const int frame = reduced.frame.number;
  Picture picture = renderer.draw(std::move(reduced), shot.finish, progress);
  if (shot.withBackdrop && hasBackdrop(scene))
    picture = over(std::move(picture), drawBackdrop(scene, frame, size.width, size.height, backdrops));
  const Vec3 ground = backgroundColor(scene, frame);
  std::vector<std::uint32_t> pixels = screenPixels(picture, ground);
  if (size != shot.shot.size) pixels = enlarged(pixels, size.width, size.height, width, height);
  return {width, height, std::move(pixels), renderer.leftOut()};
}

}  // namespace comet
