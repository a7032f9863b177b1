#include "bake/game_view.h"

#include "base/color.h"
#include "controls/choice_box.h"
#include "controls/number_field.h"
#include "controls/screen_image.h"
#include "theme/theme.h"

#include <QCheckBox>
#include <QGridLayout>
#include <QLabel>
#include <QPainter>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr int kTick = 33;  // ms
// The picture is drawn no higher than this, and enlarged: the processor stands in for a graphics card.
constexpr int kHighest = 400;
constexpr int kColumns = 4;
constexpr double kFirstLight = 3;

// From nothing over green and tawny to white, by how often a pixel is drawn.
Vec3 heat(double count) {
  constexpr double kMax = 16;
  const double x = std::clamp(count / kMax, 0.0, 1.0);
  const Vec3d color =
      count <= 0 ? Vec3d(0.0)
      : x < 0.5  ? Vec3d(0.1 + 0.75 * 2 * x, 0.3 + 0.27 * 2 * x, 0.2 + 0.09 * 2 * x)
                 : Vec3d(0.85 + 0.15 * (2 * x - 1), 0.57 + 0.43 * (2 * x - 1), 0.29 + 0.71 * (2 * x - 1));
  return {static_cast<float>(decodeSrgb(color.x)), static_cast<float>(decodeSrgb(color.y)),
          static_cast<float>(decodeSrgb(color.z))};
}

}  // namespace

GamePicture::GamePicture(QWidget* parent) : QWidget(parent) { setMinimumSize(200, 160); }

void GamePicture::setSheet(std::shared_ptr<const BakedSheet> sheet) {
  sheet_ = std::move(sheet);
  // In the middle of things, not before the first birth.
  seconds_ = 60;
  update();
}

void GamePicture::setSprites(const GameSprites& sprites) {
  sprites_ = sprites;
  update();
}

void GamePicture::setGround(Ground ground) {
  ground_ = ground;
  groundPicture_ = {};
  update();
}

void GamePicture::setShowsOverdraw(bool shows) {
  showsOverdraw_ = shows;
  update();
}

void GamePicture::setPlaying(bool playing) {
  if (timer_ != 0) killTimer(timer_);
  timer_ = playing && sheet_ ? startTimer(kTick) : 0;
  clock_.start();
}

void GamePicture::timerEvent(QTimerEvent*) {
  seconds_ += static_cast<double>(clock_.restart()) / 1000;
  if (isVisible()) update();
}

void GamePicture::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme::kNeutral);
  if (!sheet_) {
    painter.setPen(theme::kQuietText);
    painter.drawText(rect(), Qt::AlignCenter, tr("Press Bake to see the sheet as a game shows it"));
    return;
  }
  const double scale = std::max(1.0, static_cast<double>(height()) / kHighest);
  const int width = static_cast<int>(this->width() / scale),
            height = static_cast<int>(this->height() / scale);
  if (groundPicture_.width() != width || groundPicture_.height() != height)
    groundPicture_ = groundPicture(ground_, width, height);
  Picture counts = sheet_->preview.overdraw(sprites_, seconds_, width, height);
  double sum = 0;
  for (const Vec4& count : counts.pixels()) sum += count.x;
  Q_EMIT drawn(sum / std::max(1.0, static_cast<double>(counts.pixels().size())));
  if (showsOverdraw_) {
    for (int y = 0; y < height; ++y)
      for (int x = 0; x < width; ++x) counts.at(x, y) = Vec4(heat(counts.at(x, y).x), 1);
  } else {
    counts = sheet_->preview.draw(sprites_, seconds_, groundPicture_);
  }
  painter.setRenderHint(QPainter::SmoothPixmapTransform);
  painter.drawImage(rect(), screenImage(counts, Qt::black));
}

GameView::GameView(QWidget* parent)
    : QWidget(parent),
      picture_(new GamePicture),
      fields_(new QWidget),
      blend_(new ChoiceBox),
      overdraw_(new QLabel) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(4);
  layout->addWidget(picture_, 1);
  fields_->setProperty("panel", true);
  auto* grid = new QGridLayout(fields_);
  grid->setContentsMargins(8, 6, 8, 6);
  grid->setSpacing(6);
  addNumber("game_births", tr("births"), tr("/s"), 200, sprites_.birthRate, tr("Sprites born each second"),
            [this](double v) { sprites_.birthRate = v; });
  life_ = addNumber("sprite_lifetime", tr("lifetime"), tr("s"), 60, sprites_.lifetime,
                    tr("How long each sprite lives; it plays all cells once"),
                    [this](double v) { sprites_.lifetime = std::max(0.05, v); });
  addNumber("game_life_variation", tr("lifetime ±"), "%", 100, 100 * sprites_.lifeVariation,
            tr("How much lifetimes differ"), [this](double v) { sprites_.lifeVariation = v / 100; });
  addNumber("game_size", tr("size"), "%", 200, 100 * sprites_.size,
            tr("The size of a cell, in percent of the picture's height"),
            [this](double v) { sprites_.size = v / 100; });
  addNumber("game_size_variation", tr("size ±"), "%", 100, 100 * sprites_.sizeVariation,
            tr("How much sizes differ"), [this](double v) { sprites_.sizeVariation = v / 100; });
  addNumber("game_rotation", tr("rotation ±"), "°", 180, sprites_.rotation,
            tr("The largest random rotation to either side"), [this](double v) { sprites_.rotation = v; });
  addNumber("game_size_at_birth", tr("size at birth"), "%", 100, 100 * sprites_.sizeAtBirth,
            tr("The size at birth, in percent of that which sprites grow to over their lives"),
            [this](double v) { sprites_.sizeAtBirth = v / 100; });
  addNumber("game_rise", tr("speed"), "%/s", 200, 100 * sprites_.rise,
            tr("The speed upwards at birth, in percent of the picture's height each second"),
            [this](double v) { sprites_.rise = v / 100; });
  addNumber("game_cone", tr("cone"), "°", 180, sprites_.cone,
            tr("How far sprites go off to either side of straight up"),
            [this](double v) { sprites_.cone = v; });
  addNumber("game_drag", tr("drag"), "/s", 20, sprites_.drag, tr("How fast sprites lose their speed"),
            [this](double v) { sprites_.drag = v; });
  addNumber("game_spread", tr("spread"), "%", 100, 100 * sprites_.spread,
            tr("How far from the emitter sprites are born"), [this](double v) { sprites_.spread = v / 100; });
  addNumber("game_sway", tr("sway"), "%", 100, 100 * sprites_.sway,
            tr("How far the emitter moves to either side, so that one sees how the effect trails"),
            [this](double v) { sprites_.sway = v / 100; });
  addNumber("game_warmth", tr("tint"), "%", 100, 0, tr("Multiplies the colours with a warm dusk light"),
            [this](double v) { sprites_.tint = Vec3d(1, 1 - 0.35 * v / 100, 1 - 0.65 * v / 100); });
  addNumber("game_flicker", tr("flicker"), "%", 100, 0, tr("How much the light flickers, as from a flame"),
            [this](double v) { sprites_.flicker = v / 100; });
  light_ = addNumber("game_light", tr("light"), "%", 1000, 100 * sprites_.groundLight,
                     tr("The brightness of the light that the effect throws on the ground"),
                     [this](double v) { sprites_.groundLight = v / 100; });
  blend_->setObjectName("game_blend");
  blend_->addItems({tr("Cell by cell"), tr("Blended"), tr("Motion vectors")});
  blend_->setCurrentIndex(static_cast<int>(sprites_.blend));
  blend_->setToolTip(tr("How the game blends from one cell to the next"));
  grid->addWidget(blend_, 3, 3);
  auto* heatBox = new QCheckBox(tr("Overdraw"));
  heatBox->setObjectName("game_overdraw");
  heatBox->setToolTip(tr("How many times each pixel is drawn: green is once, tawny 8 times, white 16"));
  grid->addWidget(heatBox, 4, 0);
  overdraw_->setObjectName("game_fill");
  grid->addWidget(overdraw_, 4, 1, 1, kColumns - 1);
  layout->addWidget(fields_);
  connect(blend_, &QComboBox::activated, this, [this](int index) {
    sprites_.blend = static_cast<CellBlend>(index);
    change();
  });
  connect(heatBox, &QCheckBox::toggled, picture_, &GamePicture::setShowsOverdraw);
  connect(picture_, &GamePicture::drawn, this, [this](double overdraw) {
    overdraw_->setText(tr("Fill rate: each pixel is drawn %1 times on average").arg(overdraw, 0, 'f', 1));
  });
}

NumberField* GameView::addNumber(const char* name, const QString& prefix, const QString& unit, double max,
                                 double value, const QString& tip, const std::function<void(double)>& set) {
  auto* field = new NumberField;
  field->setObjectName(name);
  field->setPrefix(prefix);
  field->setUnit(unit);
  field->setRange(0, max);
  field->setUsualRange(0, max);
  field->setValue(value);
  field->setToolTip(tip);
  auto* grid = static_cast<QGridLayout*>(fields_->layout());
  const int index = grid->count();
  grid->addWidget(field, index / kColumns, index % kColumns);
  connect(field, &NumberField::edited, this, [this, field, set](double edited) {
    field->setValue(edited);
    set(edited);
    change();
  });
  return field;
}

void GameView::change() { picture_->setSprites(sprites_); }

void GameView::setSheet(const std::shared_ptr<const BakedSheet>& sheet) {
  if (sheet) {
    sprites_.lifetime = sheet->layout().seconds();
    life_->setValue(sprites_.lifetime);
    // What shines lights the ground, as brightly as was set while it did.
    if (shone_ != sheet->preview.shines()) sprites_.groundLight = shone_ ? 0 : kFirstLight;
    shone_ = sheet->preview.shines();
    light_->setValue(100 * sprites_.groundLight);
    picture_->setSprites(sprites_);
  }
  picture_->setSheet(sheet);
}

}  // namespace comet
