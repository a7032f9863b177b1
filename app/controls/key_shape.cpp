#include "controls/key_shape.h"

#include "theme/theme.h"

#include <QObject>
#include <QPainter>

namespace comet {

void drawKeyShape(QPainter& painter, const QPointF& centre, Interpolation toNext) {
  switch (toNext) {
    case Interpolation::Smooth:
      return painter.drawEllipse(centre, 3.8, 3.8);
    case Interpolation::Linear:
      return painter.drawRect(QRectF(centre - QPointF(3.3, 3.3), QSizeF(6.6, 6.6)));
    case Interpolation::Hold:
      return painter.drawRect(QRectF(centre - QPointF(4.5, 2), QSizeF(9, 4)));
    case Interpolation::Free:
      painter.drawPolygon(
          QPolygonF({centre + QPointF(0, -4.8), centre + QPointF(4.5, 3.4), centre + QPointF(-4.5, 3.4)}));
  }
}

void drawKeyHandle(QPainter& painter, const QPointF& point, const QPointF& end) {
  painter.setPen(QPen(theme::kQuietText, 1));
  painter.drawLine(point, end);
  painter.setBrush(theme::kQuietText);
  painter.drawEllipse(end, 2.6, 2.6);
}

std::vector<std::pair<QString, Interpolation>> interpolationLabels() {
  return {{QObject::tr("Straight to the next"), Interpolation::Linear},
          {QObject::tr("Smooth to the next"), Interpolation::Smooth},
          {QObject::tr("Hold until the next"), Interpolation::Hold},
          {QObject::tr("Free, by handles"), Interpolation::Free}};
}

}  // namespace comet
