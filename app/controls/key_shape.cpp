#include "controls/key_shape.h"

#include "theme/theme.h"

#include <QObject>
#include <QPainter>
#include <QPainterPath>

namespace comet {
namespace {

// From a key to the ends of its mark and of the ground behind it, pixels.
constexpr double kReach = 3.4, kGroundReach = 5.6;

}  // namespace

void drawKeyShape(QPainter& painter, const QPointF& centre, Interpolation toNext, bool isChosen) {
  QPainterPath piece(centre + QPointF(-kReach, kReach));
  const QPointF end = centre + QPointF(kReach, -kReach);
  switch (toNext) {
    case Interpolation::Linear:
      piece.lineTo(end);
      break;
    case Interpolation::Hold:
      piece.lineTo(centre + QPointF(kReach, kReach));
      piece.lineTo(end);
      break;
    case Interpolation::Smooth:
    case Interpolation::Bezier:
      piece.cubicTo(centre + QPointF(kReach, kReach), centre - QPointF(kReach, kReach), end);
      break;
  }
  if (toNext == Interpolation::Bezier) {
    piece.moveTo(centre + QPointF(-kReach, kReach));
    piece.lineTo(centre + QPointF(kReach, kReach));
    piece.moveTo(end);
    piece.lineTo(centre + QPointF(-kReach, -kReach));
  }
  const QColor colour = painter.pen().color();
  painter.save();
  painter.setPen(Qt::NoPen);
  // A ground of its own, so that it stands out from curves and bars.
  painter.setBrush(isChosen ? colour : theme::kGround);
  painter.drawRoundedRect(
      QRectF(centre - QPointF(kGroundReach, kGroundReach), 2 * QSizeF(kGroundReach, kGroundReach)), 2, 2);
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(isChosen ? theme::kGround : colour, 1.8, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  painter.drawPath(piece);
  painter.restore();
}

void drawKeyHandle(QPainter& painter, const QPointF& point, const QPointF& end) {
  painter.setPen(QPen(theme::kQuietText, 1));
  painter.drawLine(point, end);
  painter.setBrush(theme::kQuietText);
  painter.drawEllipse(end, 2.6, 2.6);
}

std::vector<std::pair<QString, Interpolation>> interpolationLabels() {
  return {{QObject::tr("Linear"), Interpolation::Linear},
          {QObject::tr("Smooth"), Interpolation::Smooth},
          {QObject::tr("Hold"), Interpolation::Hold},
          {QObject::tr("Bézier, with handles"), Interpolation::Bezier}};
}

}  // namespace comet
