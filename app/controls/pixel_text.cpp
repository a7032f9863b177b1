#include "controls/pixel_text.h"

#include "theme/words.h"

namespace comet {

QString pixelText(const PixelValue& value) {
  const auto number = [](float of) { return QString::number(of, 'f', 3); };
  const Vec4& all = value.premultiplied;
  return tr("linear R %1  G %2  B %3  A %4   ·   straight %5  %6  %7   ·   on screen %8  %9  %10")
      .arg(number(all.x), number(all.y), number(all.z), number(all.w), number(value.straight.x),
           number(value.straight.y), number(value.straight.z))
      .arg(value.screen[0])
      .arg(value.screen[1])
      .arg(value.screen[2]);
}

}  // namespace comet
