#include "life_chart/sprite_strip.h"

#include "controls/screen_image.h"
#include "life_chart/life_axis.h"
#include "render/look.h"
#include "render/rasteriser.h"
#include "theme/theme.h"

#include <QPainter>
#include <algorithm>

namespace comet {
namespace {

constexpr int kStripHeight = 30;

// The same particle from birth to death, at rest.
ParticleStore particlesOfAllAges(const Item& emitter, int frame) {
  ParticleStore particles(SpriteStrip::kAges);
  particles.resize(SpriteStrip::kAges);
  particles.fields().forEach(
      [&](ParticleStore::Field field) { std::fill_n(particles.field(field), SpriteStrip::kAges, 0.0F); });
  const auto lifetime = static_cast<float>(emitter.number("lifetime", frame));
  for (int i = 0; i < SpriteStrip::kAges; ++i) {
    particles.ids()[i] = particleId(emitter.id, 0);
    particles.field(ParticleStore::Lifetime)[i] = lifetime;
    particles.field(ParticleStore::Age)[i] = lifetime * (static_cast<float>(i) + 0.5F) / SpriteStrip::kAges;
  }
  return particles;
}

QImage imageOfAges(const Scene& scene, const Item& emitter, int frame, StampCache& stamps,
                   const QSize& size) {
  constexpr std::size_t kAges = SpriteStrip::kAges;
  const Look look(scene, emitter, frame, stamps);
  ParticleStore ages = particlesOfAllAges(emitter, frame);
  double largest = 1e-9;
  for (std::size_t i = 0; i < kAges; ++i)
    largest = std::max(largest, look.diameter(drawnParticle(ages, i).state));
  const double cell = static_cast<double>(size.width()) / kAges;
  const double pixelsPerUnit = 0.9 * std::min<double>(cell, size.height()) / largest;
  Picture picture(size.width(), size.height());
  Camera camera;
  camera.projection = Camera::Projection::Orthographic;
  camera.height = picture.height() / pixelsPerUnit;
  camera.place = {0, 0, 10};
  camera.aim = Vec3d(0.0);
  for (std::size_t i = 0; i < kAges; ++i)
    ages.field(ParticleStore::PositionX)[i] =
        static_cast<float>((static_cast<double>(i) + 0.5 - 0.5 * kAges) * cell / pixelsPerUnit);
  std::vector<Sprite> sprites(kAges);
  std::vector<SpriteTurn> turns(kAges);
  std::vector<MeshView> meshes(kAges);
  std::vector<MeshFace> faces(kAges * look.facesPerParticle());
  std::vector<FacePicture> pictures(faces.size());
  // Light items shine elsewhere.
  const std::size_t made =
      makeSprites(look, settingsLight(scene, frame), {}, ages, 0, kAges,
                  Projector(camera, picture.width(), picture.height()), picture.width(), picture.height(),
                  {sprites.data(), turns.data(), meshes.data(), faces.data(), pictures.data()});
  const std::vector<SpriteProfile> profiles{look.profile()};
  Rasteriser().draw({{sprites.data(), made}},
                    {profiles, turns.data(), nullptr, meshes.data(), faces.data(), pictures.data()}, picture);
  return screenImageOverChecker(picture, size.height() / 5);
}

}  // namespace

SpriteStrip::SpriteStrip(QWidget* parent)
    : QWidget(parent), stamps_(std::make_shared<StampCache>()), drawn_(this, [this](const QImage& image) {
        image_ = image;
        update();
      }) {
  setFixedHeight(kStripHeight);
  setToolTip(tr("The sprite at twelve ages from birth to death."));
}

void SpriteStrip::show(const Scene& scene, const Scene::ItemPtr& emitter, int frame) {
  scene_ = scene;
  emitter_ = emitter;
  frame_ = frame;
  ask();
}

void SpriteStrip::ask() {
  const QSize size(width() - 2 * kChartMargin, kStripHeight);
  if (!emitter_ || size.width() < kAges) {
    image_ = {};
    return update();
  }
  drawn_.askWhenFree([scene = scene_, emitter = emitter_, frame = frame_, stamps = stamps_, size,
                      ratio = devicePixelRatioF()](const Progress&) {
    return imageOfAges(scene, *emitter, frame, *stamps, size * ratio);
  });
}

void SpriteStrip::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  const QRect place = rect().adjusted(kChartMargin, 0, -kChartMargin, 0);
  if (image_.isNull())
    painter.fillRect(place, theme::kField);
  else
    painter.drawImage(place, image_);
}

void SpriteStrip::resizeEvent(QResizeEvent*) { ask(); }

}  // namespace comet
