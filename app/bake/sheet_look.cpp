#include "bake/sheet_look.h"

#include "base/color.h"
#include "controls/pixel_text.h"
#include "controls/screen_image.h"
#include "render/backdrop.h"
#include "theme/words.h"

#include <algorithm>
#include <optional>

namespace comet {
namespace {

// The data that a channel shows; nothing for light.
std::optional<DataLayer> layerOf(SheetChannel channel) {
  switch (channel) {
    case SheetChannel::Motion:
      return DataLayer::Motion;
    case SheetChannel::Depth:
      return DataLayer::Depth;
    case SheetChannel::Age:
      return DataLayer::Age;
    case SheetChannel::Density:
      return DataLayer::Density;
    case SheetChannel::Temperature:
      return DataLayer::Temperature;
    case SheetChannel::Normal:
      return DataLayer::Normal;
    case SheetChannel::LightA:
      return DataLayer::LightA;
    case SheetChannel::LightB:
      return DataLayer::LightB;
    default:
      return std::nullopt;
  }
}

// The picture that a channel is seen in; empty if there is none.
const Picture& sourceOf(const Flipbook& book, SheetChannel channel) {
  static const Picture kNone;
  if (channel == SheetChannel::Glow) return book.glow;
  if (channel == SheetChannel::Fire) return book.fire;
  if (channel == SheetChannel::Texture) return book.texture ? book.texture->picture : kNone;
  const auto layer = layerOf(channel);
  if (!layer) return book.color;
  const DataSheet* sheet = book.find(*layer);
  return sheet ? sheet->values : kNone;
}

// A number as a grey of equal distance to the eye.
Vec4 grey(double value) { return Vec4(Vec3(static_cast<float>(decodeSrgb(std::clamp(value, 0.0, 1.0)))), 1); }

Vec4 shown(const DataSheet* sheet, SheetChannel channel, const Vec4& pixel) {
  switch (channel) {
    case SheetChannel::Color:
    case SheetChannel::Texture:
      return pixel;
    case SheetChannel::Red:
    case SheetChannel::Green:
    case SheetChannel::Blue:
      return Vec4(Vec3(pixel[static_cast<int>(channel) - static_cast<int>(SheetChannel::Red)]), 1);
    case SheetChannel::Alpha:
      return grey(pixel.w);
    case SheetChannel::Glow:
    case SheetChannel::Fire:
      return Vec4(Vec3(pixel), 1);
    default:
      break;
  }
  if (!sheet) return grey(0);
  // Each number as a colour's share, between the least and the most.
  const double span = std::max(1e-9, sheet->to - sheet->from);
  const auto fraction = [&](float value) { return grey((value - sheet->from) / span).x; };
  const bool isOne = channel >= SheetChannel::Depth && channel <= SheetChannel::Temperature;
  return Vec4(fraction(pixel.x), fraction(isOne ? pixel.x : pixel.y), fraction(isOne ? pixel.x : pixel.z),
              1) *
         pixel.w;
}

}  // namespace

QStringList channelNames() {
  return {tr("Colour"),
          tr("Red"),
          tr("Green"),
          tr("Blue"),
          tr("Alpha"),
          tr("Glow"),
          tr("Fire"),
          tr("Motion"),
          tr("Depth"),
          tr("Age"),
          tr("Density"),
          tr("Temperature"),
          tr("Normals"),
          tr("Light right, top, back"),
          tr("Light left, below, front"),
          tr("GPU texture")};
}

QStringList groundNames() { return {tr("Checker"), tr("Black"), tr("White"), tr("Grey"), tr("Busy")}; }

bool hasChannel(const Flipbook& book, SheetChannel channel) { return !sourceOf(book, channel).empty(); }

QImage sheetImage(const Flipbook& book, const SheetLook& look) {
  const bool isColor = look.channel == SheetChannel::Color || look.channel == SheetChannel::Texture;
  const bool isOnBlack = isColor && book.layout.alpha == AlphaKind::OnBlack;
  Picture picture = sourceOf(book, look.channel);
  const auto layer = layerOf(look.channel);
  const DataSheet* sheet = layer ? book.find(*layer) : nullptr;
  if (look.mipLevel > 0) picture = reduced(picture, 1 << look.mipLevel);
  for (int y = 0; y < picture.height(); ++y)
    for (int x = 0; x < picture.width(); ++x) picture.at(x, y) = shown(sheet, look.channel, picture.at(x, y));
  const Ground ground = isOnBlack ? Ground::Black : look.ground;
  return screenImage(over(picture, groundPicture(ground, picture.width(), picture.height())), Qt::black);
}

QString valueText(const Flipbook& book, SheetChannel channel, int x, int y) {
  const Vec4& pixel = sourceOf(book, channel).at(x, y);
  const auto number = [](float value) { return QString::number(value, 'f', 3); };
  switch (channel) {
    case SheetChannel::Motion:
      return tr("%1 px right, %2 px down, seen %3").arg(number(pixel.x), number(pixel.y), number(pixel.w));
    case SheetChannel::Depth:
      return tr("%1 units away, seen %2").arg(number(pixel.x), number(pixel.w));
    case SheetChannel::Age:
      return tr("%1 of life, seen %2").arg(number(pixel.x), number(pixel.w));
    case SheetChannel::Density:
      return tr("density %1, seen %2").arg(number(pixel.x), number(pixel.w));
    case SheetChannel::Temperature:
      return tr("%1 K above the air, seen %2").arg(number(pixel.x), number(pixel.w));
    case SheetChannel::Normal:
      return tr("%1 right, %2 up, %3 to the viewer").arg(number(pixel.x), number(pixel.y), number(pixel.z));
    case SheetChannel::LightA:
      return tr("right %1, top %2, back %3").arg(number(pixel.x), number(pixel.y), number(pixel.z));
    case SheetChannel::LightB:
      return tr("left %1, below %2, front %3").arg(number(pixel.x), number(pixel.y), number(pixel.z));
    default:
      return pixelText(pixelValue(pixel));
  }
}

}  // namespace comet
