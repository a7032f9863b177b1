// Pictures as images for the screen.
#pragma once

#include "base/picture.h"
#include "cache/picture_cache.h"

#include <QColor>
#include <QImage>

namespace comet {

QImage screenImage(const Picture& picture, const QColor& ground);
// Shares the pixels.
QImage imageOf(const ScreenPicturePtr& picture);
QImage screenImageOverChecker(const Picture& picture, int square = 8);

}  // namespace comet
