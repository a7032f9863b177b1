#include "controls/key_shape.h"

#include "theme/theme.h"

#include <QObject>
#include <QPainter>
#include <QPainterPath>

namespace comet {
namespace {

constexpr double kReach = 3.6;  // from a key to the ends of its mark, pixels

}  // namespace

void drawKeyShape(QPainter& painter, const QPointF& centre, Interpolation toNext) {
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
  const QBrush colour = painter.brush();
  painter.save();
  painter.setBrush(Qt::NoBrush);
  // Dark around it, so that it stands out from curves and bars.
  painter.setPen(QPen(theme::kGround, 5, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  painter.drawPath(piece);
  painter.setPen(QPen(colour, 2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
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
