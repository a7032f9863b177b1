// Marks of points on curves and of keys. What follows one is told by its shape: round for smooth, square for
// straight, flat for hold, a peak where handles rule.
#pragma once

#include "base/curve.h"

#include <QPointF>
#include <QString>
#include <utility>
#include <vector>

class QPainter;

namespace comet {

// With the painter's pen and brush, about nine pixels wide.
void drawKeyShape(QPainter& painter, const QPointF& centre, Interpolation toNext);

// A handle of a point, from the point to its end.
void drawKeyHandle(QPainter& painter, const QPointF& point, const QPointF& end);

// All ways on from a key, as menus name them.
std::vector<std::pair<QString, Interpolation>> interpolationLabels();

}  // namespace comet
