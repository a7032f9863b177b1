#include "bake/game_preview.h"

#include "bake/flipbook_file.h"
#include "bake/light_hue.h"
#include "base/color.h"
#include "base/flicker.h"
#include "base/noise.h"
#include "base/parallel.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr std::uint64_t kGameKey = 20261;
constexpr double kFlickerRate = 8, kSwayPeriod = 4;  // 1 / s, s
constexpr double kEmitterHeight = 0.6;               // from the picture's top, of its height

// What draws are for; they are no particles of a scene.
enum class Part : std::uint64_t { Life, Size, Turn, PlaceX, PlaceY, Way, Variant };

RandomSource randomOf(Part part) { return RandomSource(kGameKey + static_cast<std::uint64_t>(part)); }

double signedPart(std::uint64_t sprite, Part part) {
  return randomOf(part).signedUnit(sprite, Draw::Variant);
}

double unitPart(std::uint64_t sprite, Part part) { return randomOf(part).unit(sprite, Draw::Variant); }

Vec3 grey(double encoded) { return Vec3(static_cast<float>(decodeSrgb(encoded))); }

Vec3 groundAt(Ground ground, int x, int y) {
  constexpr int kCheck = 16;
  switch (ground) {
    case Ground::Checker:
      return grey((x / kCheck + y / kCheck) % 2 == 0 ? 0.36 : 0.28);
    case Ground::Black:
      return grey(0);
    case Ground::White:
      return grey(1);
    case Ground::Grey:
      return grey(0.46);
    case Ground::Busy: {
      // Planks at dusk: rows of boards, each of its own shade, with grain along them.
      constexpr int kBoard = 38;
      const int board = y / kBoard;
      const double grain = smoothNoise({x / 46.0 + board * 7.3, y / 5.0, 0.4}, 11);
      const double knots = smoothNoise({x / 90.0, y / 21.0, board * 1.7}, 12);
      const double shade =
          0.42 + 0.1 * smoothNoise({board * 0.77 + 0.3, 0.5, 0.2}, 13) + 0.09 * grain + 0.1 * knots;
      const double gap = y % kBoard < 2 ? 0.45 : 1;
      return {static_cast<float>(decodeSrgb(std::clamp(shade * 1.1 * gap, 0.0, 1.0))),
              static_cast<float>(decodeSrgb(std::clamp(shade * gap, 0.0, 1.0))),
              static_cast<float>(decodeSrgb(std::clamp(shade * 0.86 * gap, 0.0, 1.0)))};
    }
  }
  return Vec3(0.0F);
}

// The sheet as the game holds it, ready to be laid over something; empty if that is how it was baked.
Picture storedSheet(const Flipbook& book) {
  if (book.layout.alpha == AlphaKind::Premultiplied) return {};
  Picture sheet = withAlphaKind(book.color, book.layout);
  const AlphaKind alpha = book.layout.alpha;
  for (int y = 0; y < sheet.height(); ++y)
    for (int x = 0; x < sheet.width(); ++x) {
      Vec4& pixel = sheet.at(x, y);
      if (alpha == AlphaKind::Straight) pixel = Vec4(Vec3(pixel) * pixel.w, pixel.w);
      if (alpha == AlphaKind::OnBlack) pixel.w = 0;
    }
  return sheet;
}

// Where sprites are born.
Vec2d emitterAt(const GameSprites& sprites, double seconds, int width, int height) {
  const double aside = sprites.sway * std::sin(2 * kPi * seconds / kSwayPeriod);
  return {0.5 * width + aside * height, kEmitterHeight * height};
}

}  // namespace

Picture groundPicture(Ground ground, int width, int height) {
  Picture picture(width, height);
  parallelFor(static_cast<std::size_t>(height), [&](std::size_t y) {
    for (int x = 0; x < width; ++x)
      picture.at(x, static_cast<int>(y)) = Vec4(groundAt(ground, x, static_cast<int>(y)), 1);
  });
  return picture;
}

template <typename Visit>
void GamePreview::Placed::forRow(int y, int pictureWidth, const Visit& visit) const {
  const double reach = 0.5 * std::hypot(width, height);
  const double dy = y + 0.5 - middle.y;
  if (std::abs(dy) > reach) return;
  const int from = std::max(0, static_cast<int>(middle.x - reach));
  const int until = std::min(pictureWidth, static_cast<int>(middle.x + reach) + 1);
  for (int x = from; x < until; ++x) {
    const double dx = x + 0.5 - middle.x;
    const double u = (dx * cosine + dy * sine) / width + 0.5;
    const double v = (dy * cosine - dx * sine) / height + 0.5;
    if (u >= 0 && v >= 0 && u < 1 && v < 1) visit(x, u, v);
  }
}

GamePreview::GamePreview(std::shared_ptr<const Flipbook> book)
    : book_(std::move(book)), stored_(storedSheet(*book_)), motion_(book_->find(DataLayer::Motion)) {
  shines_ = !book_->fire.empty() || layout().alpha == AlphaKind::OnBlack;
  hue_ = hueOf(book_->fire.empty() ? sheet() : book_->fire).value_or(hue_);
}

Vec4 GamePreview::sheetAt(const Picture& sheet, std::size_t cell, double x, double y) const {
  // As a texture is read: up to the padding, which goes on with the edge.
  const double reach = layout().padding - 0.5;
  return sampled(sheet, layout().cellX(cell) + std::clamp(x, -reach, layout().cellWidth + reach),
                 layout().cellY(cell) + std::clamp(y, -reach, layout().cellHeight + reach));
}

Vec4 GamePreview::colorAt(std::size_t cell, double x, double y) const {
  Vec4 value = sheetAt(sheet(), cell, x, y);
  if (!book_->fire.empty()) value += Vec4(Vec3(sheetAt(book_->fire, cell, x, y)), 0);
  return value;
}

Vec4 GamePreview::valueAt(std::size_t variant, double cell, double u, double v, CellBlend blend) const {
  const std::size_t count = layout().cellsEach(), first = variant * count;
  const bool isLoop = layout().loop != LoopKind::None;
  const auto whole = static_cast<std::size_t>(cell);
  const std::size_t from = first + (isLoop ? whole % count : std::min(whole, count - 1));
  const std::size_t to = isLoop ? layout().following(from) : std::min(from + 1, first + count - 1);
  const double fraction = blend == CellBlend::None ? 0 : cell - std::floor(cell);
  const double x = u * layout().cellWidth, y = v * layout().cellHeight;
  if (fraction == 0 || from == to) return colorAt(from, x, y);
  Vec2d out(0.0), in(0.0);
  if (blend == CellBlend::AlongMotion && motion_) {
    out = Vec2d(Vec2(sheetAt(motion_->values, from, x, y))) * fraction;
    in = Vec2d(Vec2(sheetAt(motion_->values, to, x, y))) * (fraction - 1);
  }
  const auto weight = static_cast<float>(fraction);
  return colorAt(from, x - out.x, y - out.y) * (1 - weight) + colorAt(to, x - in.x, y - in.y) * weight;
}

// The floor is seen in perspective from `kEye` above it, with a focal length of 1; lengths are of the
// picture's height. The light is straight above the place where it is 1 away from the viewer.
void GamePreview::lightGround(const GameSprites& sprites, double seconds, double light,
                              Picture& picture) const {
  constexpr double kHorizon = 0.55, kEye = 0.32, kAlbedo = 0.12, kFull = 0.2;
  constexpr double kAbove = kHorizon + kEye - kEmitterHeight;
  const double height = picture.height();
  const double lightX =
      (emitterAt(sprites, seconds, picture.width(), picture.height()).x - 0.5 * picture.width()) / height;
  const Vec3d color = hue_ * sprites.tint * (sprites.groundLight * light);
  parallelFor(static_cast<std::size_t>(picture.height()), [&](std::size_t row) {
    const int y = static_cast<int>(row);
    const double below = (y + 0.5) / height - kHorizon;
    if (below <= 0) return;
    const double away = kEye / below;
    for (int x = 0; x < picture.width(); ++x) {
      const double aside = ((x + 0.5) / height - 0.5 * picture.width() / height) * away - lightX;
      const double squared = aside * aside + kAbove * kAbove + (away - 1) * (away - 1);
      // The inverse square, and the angle at which it falls.
      const double arrives = std::min(1.0, kFull * kFull / squared) * kAbove / std::sqrt(squared);
      Vec4& pixel = picture.at(x, y);
      const Vec3 sent = Vec3(color * arrives) * (Vec3(pixel) + static_cast<float>(kAlbedo));
      pixel += Vec4(sent, 0);
    }
  });
}

std::vector<GamePreview::Placed> GamePreview::placed(const GameSprites& sprites, double seconds, int width,
                                                     int height) const {
  std::vector<Placed> all;
  const double longest = sprites.lifetime * (1 + sprites.lifeVariation);
  const double rate = std::max(1e-3, sprites.birthRate);
  const auto first = static_cast<std::int64_t>(std::floor((seconds - longest) * rate));
  for (std::int64_t i = std::max<std::int64_t>(0, first); i / rate <= seconds; ++i) {
    const auto sprite = static_cast<std::uint64_t>(i);
    const double born = static_cast<double>(i) / rate, age = seconds - born;
    const double life = sprites.lifetime * (1 + sprites.lifeVariation * signedPart(sprite, Part::Life));
    if (age >= life || life <= 0) continue;
    const double turn = radians(sprites.rotation * signedPart(sprite, Part::Turn));
    const Vec2d start(signedPart(sprite, Part::PlaceX), signedPart(sprite, Part::PlaceY));
    const double way = radians(sprites.cone * signedPart(sprite, Part::Way));
    // Each stays where it was born, and goes as far as drag lets it.
    const double far =
        sprites.rise * (sprites.drag > 0 ? -std::expm1(-sprites.drag * age) / sprites.drag : age);
    Placed made;
    made.middle =
        emitterAt(sprites, born, width, height) +
        (start * sprites.spread + far * Vec2d(std::sin(way), -std::cos(way))) * static_cast<double>(height);
    made.width = height * sprites.size * (1 + sprites.sizeVariation * signedPart(sprite, Part::Size)) *
                 (sprites.sizeAtBirth + (1 - sprites.sizeAtBirth) * age / life);
    made.height = made.width * layout().cellHeight / layout().cellWidth;
    made.cosine = std::cos(turn);
    made.sine = std::sin(turn);
    const auto variants = static_cast<double>(layout().variants.size());
    made.variant = static_cast<std::size_t>(unitPart(sprite, Part::Variant) * variants);
    made.cell = age / life * static_cast<double>(layout().cellsEach());
    all.push_back(made);
  }
  return all;
}

Picture GamePreview::draw(const GameSprites& sprites, double seconds, const Picture& ground) const {
  Picture picture = ground;
  const std::vector<Placed> all = placed(sprites, seconds, ground.width(), ground.height());
  const double light = Flicker{sprites.flicker, kFlickerRate}.at(seconds);
  const Vec4 tint(Vec3(sprites.tint * light), 1);
  if (sprites.groundLight > 0) lightGround(sprites, seconds, light, picture);
  parallelFor(static_cast<std::size_t>(picture.height()), [&](std::size_t row) {
    const int y = static_cast<int>(row);
    for (const Placed& sprite : all)
      sprite.forRow(y, picture.width(), [&](int x, double u, double v) {
        const Vec4 value = valueAt(sprite.variant, sprite.cell, u, v, sprites.blend) * tint;
        Vec4& pixel = picture.at(x, y);
        pixel = value + pixel * (1 - value.w);
      });
  });
  return picture;
}

Picture GamePreview::overdraw(const GameSprites& sprites, double seconds, int width, int height) const {
  Picture counts(width, height);
  const std::vector<Placed> all = placed(sprites, seconds, width, height);
  parallelFor(static_cast<std::size_t>(height), [&](std::size_t row) {
    const int y = static_cast<int>(row);
    for (const Placed& sprite : all)
      sprite.forRow(y, width, [&](int x, double, double) { counts.at(x, y).x += 1; });
  });
  return counts;
}

Picture GamePreview::cellAt(std::size_t variant, double seconds, CellBlend blend) const {
  Picture picture(layout().cellWidth, layout().cellHeight);
  const double cell =
      std::fmod(std::max(0.0, seconds) * layout().framesPerSecond, static_cast<double>(layout().cellsEach()));
  parallelFor(static_cast<std::size_t>(picture.height()), [&](std::size_t row) {
    const int y = static_cast<int>(row);
    for (int x = 0; x < picture.width(); ++x)
      picture.at(x, y) =
          valueAt(variant, cell, (x + 0.5) / picture.width(), (y + 0.5) / picture.height(), blend);
  });
  return picture;
}

}  // namespace comet
