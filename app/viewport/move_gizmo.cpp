#include "viewport/move_gizmo.h"

#include "theme/theme.h"
#include "viewport/facing_plane.h"

#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

constexpr double kArmPixels = 58;
constexpr double kSquare = 6;

Vec3d axisVector(int axis) {
  Vec3d vector(0.0);
  vector[axis] = 1;
  return vector;
}

double length(const QPointF& offset) { return std::hypot(offset.x(), offset.y()); }

}  // namespace

QPointF MoveGizmo::centre(const Projector& projector, const Vec3d& place) const {
  return pixel(projector.project(place));
}

QPointF MoveGizmo::tip(const Projector& projector, const Vec3d& place, int axis) const {
  // As long in the scene as makes an arm that lies in the picture plane kArmPixels long.
  const double arm = kArmPixels / projector.project(place).pixelsPerUnit;
  return pixel(projector.project(place + axisVector(axis) * arm));
}

MoveGizmo::Grip MoveGizmo::gripAt(const Projector& projector, const Vec3d& place,
                                  const QPointF& position) const {
  if (!projector.visible(projector.project(place))) return Grip::None;
  const QPointF middle = centre(projector, place);
  if (length(position - middle) <= theme::kGripReach) return Grip::Plane;
  for (int axis = 0; axis < 3; ++axis) {
    const QPointF arm = tip(projector, place, axis) - middle;
    const double armLength = length(arm);
    if (armLength < 2 * theme::kGripReach) continue;  // points at the viewer
    const double along = QPointF::dotProduct(position - middle, arm) / armLength;
    const double beside = length(position - middle - arm * (along / armLength));
    if (along > theme::kGripReach && along < armLength + theme::kGripReach && beside <= theme::kGripReach)
      return static_cast<Grip>(static_cast<int>(Grip::X) + axis);
  }
  return Grip::None;
}

void MoveGizmo::start(Grip grip, const Projector& projector, const Vec3d& place, const QPointF& position) {
  grip_ = grip;
  startPlace_ = place;
  startPoint_ = pointUnder(projector, position);
}

Vec3d MoveGizmo::moved(const Projector& projector, const QPointF& position) const {
  return startPlace_ + pointUnder(projector, position) - startPoint_;
}

Vec3d MoveGizmo::pointUnder(const Projector& projector, const QPointF& position) const {
  if (grip_ == Grip::Plane) return pointOnFacingPlane(projector, position, startPlace_);
  return pointOnLine(projector, position, startPlace_,
                     axisVector(static_cast<int>(grip_) - static_cast<int>(Grip::X)));
}

void MoveGizmo::paint(QPainter& painter, const Projector& projector, const Vec3d& place, Grip hovered) const {
  if (!projector.visible(projector.project(place))) return;
  const QPointF middle = centre(projector, place);
  const Grip lit = grip_ != Grip::None ? grip_ : hovered;
  painter.setFont(theme::font(11, true));
  for (int axis = 0; axis < 3; ++axis) {
    const QPointF end = tip(projector, place, axis);
    if (length(end - middle) < theme::kGripReach) continue;
    const bool isLit = lit == static_cast<Grip>(static_cast<int>(Grip::X) + axis);
    const QColor color = isLit ? theme::kAccent.lighter(125) : theme::kAxis[axis];
    painter.setPen(QPen(color, isLit ? 2.6 : 1.8));
    painter.drawLine(middle, end);
    painter.setBrush(color);
    painter.drawEllipse(end, 3.4, 3.4);
    const QPointF away = (end - middle) / length(end - middle) * 12;
    painter.drawText(QRectF(end + away - QPointF(8, 8), QSizeF(16, 16)), Qt::AlignCenter,
                     QStringLiteral("xyz").mid(axis, 1));
  }
  painter.setPen(QPen(lit == Grip::Plane ? theme::kAccent.lighter(125) : theme::kText, 1.4));
  painter.setBrush(theme::withAlpha(theme::kGround, 120));
  painter.drawRect(QRectF(middle - QPointF(kSquare, kSquare), QSizeF(2 * kSquare, 2 * kSquare)));
}

}  // namespace comet
