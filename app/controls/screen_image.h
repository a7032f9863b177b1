// Pictures as images for the screen.
#pragma once

#include <QColor>
#include <QImage>

#include "base/picture.h"

namespace comet {

QImage screenImage(const Picture& picture, const QColor& ground);
QImage screenImageOverChecker(const Picture& picture, int square = 8);

}  // namespace comet
