#include "controls/screen_image.h"

#include "controls/color_picker.h"
#include "render/view_transform.h"
#include "theme/theme.h"

#include <cstring>
#include <memory>

namespace comet {
namespace {

QImage imageFrom(const Picture& picture, const std::vector<std::uint32_t>& pixels) {
  QImage image(picture.width(), picture.height(), QImage::Format_RGB32);
  const auto width = static_cast<std::size_t>(picture.width());
  for (int y = 0; y < picture.height(); ++y)
    std::memcpy(image.scanLine(y), pixels.data() + static_cast<std::size_t>(y) * width,
                width * sizeof(std::uint32_t));
  return image;
}

}  // namespace

QImage screenImage(const Picture& picture, const QColor& ground) {
  return imageFrom(picture, screenPixels(picture, Vec3(linearColor(ground))));
}

QImage imageOf(const ScreenPicturePtr& picture) {
  const auto letGo = [](void* held) { delete static_cast<ScreenPicturePtr*>(held); };
  auto held = std::make_unique<ScreenPicturePtr>(picture);
  return {reinterpret_cast<const uchar*>(picture->pixels.data()),
          picture->width,
          picture->height,
          static_cast<qsizetype>(picture->width) * static_cast<qsizetype>(sizeof(std::uint32_t)),
          QImage::Format_RGB32,
          letGo,
          held.release()};
}

QImage screenImageOverChecker(const Picture& picture, int square) {
  return imageFrom(picture, screenPixelsOverChecker(picture, Vec3(linearColor(theme::kCheckerLight)),
                                                    Vec3(linearColor(theme::kCheckerDark)), square));
}

}  // namespace comet
