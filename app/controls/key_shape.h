// Marks of points on curves and of keys: a piece of the curve that follows, a slash for linear, an S for
// smooth, a step for hold, an S with its handles for Bézier.
#pragma once

#include "base/curve.h"

#include <QPointF>
#include <QString>
#include <utility>
#include <vector>

class QPainter;

namespace comet {

// In the colour of the painter's pen, eleven pixels wide.
void drawKeyShape(QPainter& painter, const QPointF& centre, Interpolation toNext, bool isChosen);

// A handle of a point, from the point to its end.
void drawKeyHandle(QPainter& painter, const QPointF& point, const QPointF& end);

// All interpolations, as menus name them.
std::vector<std::pair<QString, Interpolation>> interpolationLabels();

}  // namespace comet
