#include "life_chart/sprite_strip.h"

#include "controls/screen_image.h"
#include "render/look.h"
#include "render/rasteriser.h"
#include "theme/theme.h"

#include <QPainter>
#include <algorithm>

namespace comet {
namespace {

constexpr int kHeight = 42;
constexpr int kMargin = 6;  // as the lanes below

}  // namespace

SpriteStrip::SpriteStrip(QWidget* parent) : QWidget(parent) {
  setFixedHeight(kHeight);
  setToolTip(tr("The sprite at twelve ages, from birth to death, as it is drawn."));
}

void SpriteStrip::show(const Scene::ItemPtr& emitter, int frame) {
  emitter_ = emitter;
  frame_ = frame;
  draw();
}

void SpriteStrip::draw() {
  update();
  image_ = {};
  const int width = this->width() - 2 * kMargin;
  if (!emitter_ || width < kAges) return;
  const double ratio = devicePixelRatioF();
  const Look look(*emitter_, frame_);
  const auto diameterAt = [&look](int i) { return look.diameter(0, (i + 0.5) / kAges); };
  double largest = 1e-9;
  for (int i = 0; i < kAges; ++i) largest = std::max(largest, diameterAt(i));
  const double cell = width * ratio / kAges;
  const double pixelsPerUnit = 0.9 * std::min(cell, kHeight * ratio) / largest;
  std::vector<Sprite> sprites;
  for (int i = 0; i < kAges; ++i) {
    const double share = (i + 0.5) / kAges;
    const Vec3 color = look.color(share);
    Sprite sprite{static_cast<float>((i + 0.5) * cell),
                  static_cast<float>(kHeight * ratio / 2),
                  static_cast<float>(0.5 * diameterAt(i) * pixelsPerUnit),
                  1,
                  color.x,
                  color.y,
                  color.z,
                  static_cast<float>(look.opacity(0, share)),
                  0};
    if (sprite.radius <= 0) continue;
    keepVisible(sprite);
    sprites.push_back(sprite);
  }
  Picture picture(static_cast<int>(width * ratio), static_cast<int>(kHeight * ratio));
  Rasteriser().draw({{sprites.data(), sprites.size()}}, {look.profile()}, picture);
  image_ = screenImageOverChecker(picture, static_cast<int>(6 * ratio));
}

void SpriteStrip::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  const QRect place = rect().adjusted(kMargin, 0, -kMargin, 0);
  if (image_.isNull())
    painter.fillRect(place, theme::kField);
  else
    painter.drawImage(place, image_);
}

void SpriteStrip::resizeEvent(QResizeEvent*) { draw(); }

}  // namespace comet
