// Pictures as images for the screen.
#pragma once

#include "base/picture.h"

#include <QColor>
#include <QImage>

namespace comet {

QImage screenImage(const Picture& picture, const QColor& ground);
QImage screenImageOverChecker(const Picture& picture, int square = 8);

}  // namespace comet
