#include "bake/sheet_look.h"

#include "base/color.h"
#include "controls/screen_image.h"
#include "render/backdrop.h"

#include <QCoreApplication>
#include <algorithm>

namespace comet {
namespace {

QString tr(const char* text) { return QCoreApplication::translate("SheetLook", text); }

// The picture that a channel is seen in.
const Picture& sourceOf(const Flipbook& book, SheetChannel channel) {
  switch (channel) {
    case SheetChannel::Glow:
      return book.glow;
    case SheetChannel::Motion:
      return book.motion.values;
    case SheetChannel::Depth:
      return book.depth.values;
    case SheetChannel::Age:
      return book.age.values;
    default:
      return book.color;
  }
}

// A number as a grey of equal distance to the eye.
Vec4 grey(double value) { return Vec4(Vec3(static_cast<float>(decodeSrgb(std::clamp(value, 0.0, 1.0)))), 1); }

Vec4 shown(const Flipbook& book, SheetChannel channel, const Vec4& pixel) {
  const auto within = [&pixel](const DataSheet& sheet) {
    const double span = sheet.to - sheet.from;
    return grey(span > 0 ? (pixel.x - sheet.from) / span : 0) * pixel.w;
  };
  switch (channel) {
    case SheetChannel::Color:
      return pixel;
    case SheetChannel::Red:
    case SheetChannel::Green:
    case SheetChannel::Blue:
      return Vec4(Vec3(pixel[static_cast<int>(channel) - static_cast<int>(SheetChannel::Red)]), 1);
    case SheetChannel::Alpha:
      return grey(pixel.w);
    case SheetChannel::Glow:
      return Vec4(Vec3(pixel), 1);
    case SheetChannel::Motion: {
      const Vec2 share = Vec2(pixel) / static_cast<float>(book.motion.to) * 0.5F + 0.5F;
      return Vec4(grey(share.x).x, grey(share.y).x, grey(0.5).x, 1) * pixel.w;
    }
    case SheetChannel::Depth:
      return within(book.depth);
    case SheetChannel::Age:
      return within(book.age);
  }
  return pixel;
}

}  // namespace

QStringList channelNames() {
  return {tr("Colour"), tr("Red"),    tr("Green"), tr("Blue"), tr("Alpha"),
          tr("Glow"),   tr("Motion"), tr("Depth"), tr("Age")};
}

QStringList groundNames() { return {tr("Checker"), tr("Black"), tr("White"), tr("Grey"), tr("Busy")}; }

bool hasChannel(const Flipbook& book, SheetChannel channel) { return !sourceOf(book, channel).empty(); }

QImage sheetImage(const Flipbook& book, const SheetLook& look) {
  const bool isOnBlack = look.channel == SheetChannel::Color && book.layout.alpha == AlphaKind::OnBlack;
  Picture picture = sourceOf(book, look.channel);
  if (look.mipLevel > 0) picture = reduced(picture, 1 << look.mipLevel);
  for (int y = 0; y < picture.height(); ++y)
    for (int x = 0; x < picture.width(); ++x) picture.at(x, y) = shown(book, look.channel, picture.at(x, y));
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
    default:
      return tr("R %1  G %2  B %3  A %4")
          .arg(number(pixel.x), number(pixel.y), number(pixel.z), number(pixel.w));
  }
}

}  // namespace comet
