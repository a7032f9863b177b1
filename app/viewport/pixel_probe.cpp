#include "viewport/pixel_probe.h"

#include <QColor>

namespace comet {

PixelProbe::PixelProbe(QObject* parent)
    : QObject(parent), drawing_(this, [this](const Drawn& drawn) {
        if (!isOn_) return;
        drawn_ = drawn;
        Q_EMIT changed();
      }) {}

void PixelProbe::setOn(bool on) {
  isOn_ = on;
  wanted_.reset();
  drawn_ = {};
}

void PixelProbe::look(const ViewedScene::FrameShot& shot) {
  if (!isOn_ || wanted_ == shot.key) return;
  wanted_ = shot.key;
  drawing_.ask([shot](const Progress& progress) -> Drawn {
    return {shot.key,
            std::make_shared<const Picture>(Renderer().draw(shot.shot.shot, shot.shot.finish, progress))};
  });
}

std::optional<PixelValue> PixelProbe::at(const QPoint& pixel, const QImage& screen) const {
  if (!drawn_.picture || wanted_ != drawn_.key) return std::nullopt;
  const Picture& picture = *drawn_.picture;
  if (screen.size() != QSize(picture.width(), picture.height()) || !screen.rect().contains(pixel))
    return std::nullopt;
  PixelValue value = pixelValue(picture.at(pixel.x(), pixel.y()));
  const QColor shown = screen.pixelColor(pixel);
  value.screen = {shown.red(), shown.green(), shown.blue()};
  return value;
}

}  // namespace comet
