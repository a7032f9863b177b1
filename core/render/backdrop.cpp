#include "render/backdrop.h"

#include "base/color.h"
#include "base/parallel.h"
#include "render/rasteriser.h"

#include <cmath>

namespace comet {
namespace {

// A dark neutral grey, so that colours can be judged before it: sRGB 30.
const Vec3d kNeutral(decodeSrgb(30 / 255.0));

}  // namespace

std::vector<ParamSpec> backdropParams() {
  std::vector<ParamSpec> params{
      color("background", "Background", kNeutral)
          .in("Backdrop")
          .keyed()
          .tip("The colour behind everything in the viewport. It is not baked."),
      file("backdrop", "Backdrop", FileKind::Picture)
          .in("Backdrop")
          .tip("A picture behind the effect, to match it to a game's view; # stands for each digit of a "
               "sequence. It is never baked."),
      number("backdrop_scale", "Scale", 100)
          .in("Backdrop")
          .unit("%")
          .range(1, 10000)
          .usual(10, 300)
          .keyed()
          .tip("The height of the backdrop, in percent of the view's height."),
      number("backdrop_x", "Offset x", 0)
          .in("Backdrop")
          .unit("%")
          .range(-1000, 1000)
          .usual(-100, 100)
          .keyed()
          .tip("Moves the backdrop to the right, in percent of the view's height."),
      number("backdrop_y", "Offset y", 0)
          .in("Backdrop")
          .unit("%")
          .range(-1000, 1000)
          .usual(-100, 100)
          .keyed()
          .tip("Moves the backdrop up, in percent of the view's height."),
      number("backdrop_brightness", "Brightness", 100)
          .in("Backdrop")
          .unit("%")
          .range(0, 1000)
          .usual(0, 200)
          .keyed()
          .tip("Darkens or brightens the backdrop, so that the effect stands out."),
  };
  for (ParamSpec& spec : params) spec.affects(Affects::View);
  return params;
}

bool hasBackdrop(const Scene& scene) { return scene.camera().content<PictureContent>("backdrop") != nullptr; }

Vec3 backgroundColor(const Scene& scene, int frame) {
  return Vec3(scene.camera().vector("background", frame));
}

Picture drawBackdrop(const Scene& scene, int frame, int width, int height, StampCache& stamps) {
  const Item& camera = scene.camera();
  const auto content = camera.content<PictureContent>("backdrop");
  Picture layer(width, height);
  SpriteProfile profile;
  profile.type = SpriteProfile::Type::Stamp;
  profile.turned = true;
  profile.stamps = stamps.ofWhole(*content, frame);
  const double high = height * camera.number("backdrop_scale", frame) / 100.0;
  const double wide = high * content->width() / content->height();
  if (high < 1 || wide < 1) return layer;
  Sprite sprite{};
  sprite.x = static_cast<float>(0.5 * width + camera.number("backdrop_x", frame) / 100.0 * height);
  sprite.y = static_cast<float>(0.5 * height - camera.number("backdrop_y", frame) / 100.0 * height);
  sprite.radius = static_cast<float>(0.5 * std::sqrt(wide * high));
  sprite.red = sprite.green = sprite.blue =
      static_cast<float>(camera.number("backdrop_brightness", frame) / 100.0);
  sprite.opacity = 1;
  SpriteTurn turn{};
  turn.uAcross = static_cast<float>(2 / wide);
  turn.vDown = static_cast<float>(2 / high);
  turn.reachX = static_cast<float>(0.5 * wide + 1);
  turn.reachY = static_cast<float>(0.5 * high + 1);
  turn.pixelsWide = static_cast<float>(wide);
  turn.pixelsHigh = static_cast<float>(high);
  Rasteriser().draw({{&sprite, 1}}, {{profile}, &turn}, layer);
  return layer;
}

Picture over(Picture picture, const Picture& ground) {
  parallelFor(static_cast<std::size_t>(picture.height()), [&](std::size_t y) {
    Vec4* out = picture.row(static_cast<int>(y));
    const Vec4* below = ground.row(static_cast<int>(y));
    for (int x = 0; x < picture.width(); ++x) out[x] += below[x] * (1 - out[x].w);
  });
  return picture;
}

}  // namespace comet
