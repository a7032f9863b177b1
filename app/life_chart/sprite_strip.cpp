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

void SpriteStrip::show(const Scene& scene, const Scene::ItemPtr& emitter, int frame) {
  scene_ = scene;
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
  const Look look(scene_, *emitter_, frame_, stamps_);
  const auto particleAt = [](int i) {
    DrawnParticle particle;
    particle.state.share = (i + 0.5) / kAges;
    particle.age = particle.state.share;
    return particle;
  };
  double largest = 1e-9;
  for (int i = 0; i < kAges; ++i) largest = std::max(largest, look.diameter(particleAt(i).state));
  const double cell = width * ratio / kAges;
  const double pixelsPerUnit = 0.9 * std::min(cell, kHeight * ratio) / largest;
  Camera camera;
  camera.projection = Camera::Projection::Orthographic;
  const Projector projector(camera, 1, 1);
  std::vector<Sprite> sprites;
  std::vector<SpriteTurn> turns(kAges);
  for (int i = 0; i < kAges; ++i) {
    const Projector::Point point{(i + 0.5) * cell, kHeight * ratio / 2, 1, pixelsPerUnit};
    Sprite sprite{};
    sprite.turn = static_cast<std::uint32_t>(i);
    if (look.draw(particleAt(i), projector, point, sprite, turns[sprite.turn])) sprites.push_back(sprite);
  }
  Picture picture(static_cast<int>(width * ratio), static_cast<int>(kHeight * ratio));
  const std::vector<SpriteProfile> profiles{look.profile()};
  Rasteriser().draw({{sprites.data(), sprites.size()}}, {profiles, turns.data()}, picture);
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
