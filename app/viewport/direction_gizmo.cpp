#include "viewport/direction_gizmo.h"

#include "theme/theme.h"
#include "viewport/facing_plane.h"

#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

// Beyond the handles that move.
constexpr double kArrowPixels = 92;
constexpr double kHeadPixels = 9, kHeadWidth = 4.5;

Vec3d tipInScene(const Projector& projector, const DirectionGizmo::Arrow& arrow) {
  return arrow.place + arrow.direction * (kArrowPixels / projector.project(arrow.place).pixelsPerUnit);
}

}  // namespace

QPointF DirectionGizmo::tip(const Projector& projector, const Arrow& arrow) const {
  return pixel(projector.project(tipInScene(projector, arrow)));
}

bool DirectionGizmo::isTipAt(const Projector& projector, const Arrow& arrow, const QPointF& position) const {
  if (!projector.visible(projector.project(arrow.place))) return false;
  const QPointF away = position - tip(projector, arrow);
  return std::hypot(away.x(), away.y()) <= theme::kGripReach;
}

void DirectionGizmo::start(const Arrow& arrow) {
  isHeld_ = true;
  start_ = arrow;
}

// In the plane through the tip that faces the viewer: how much it points at or away from them stays.
Vec3d DirectionGizmo::turned(const Projector& projector, const QPointF& position) const {
  const Vec3d way = pointOnFacingPlane(projector, position, tipInScene(projector, start_)) - start_.place;
  const double length = glm::length(way);
  return length > 0 ? way / length : start_.direction;
}

void DirectionGizmo::paint(QPainter& painter, const Projector& projector, const Arrow& arrow,
                           bool isHovered) const {
  const Projector::Point place = projector.project(arrow.place);
  if (!projector.visible(place)) return;
  const QPointF from = pixel(place), to = tip(projector, arrow), way = to - from;
  const double length = std::hypot(way.x(), way.y());
  const bool isLit = isHovered || isHeld_;
  const QColor color = isLit ? theme::kAccent.lighter(125) : theme::kAccent;
  painter.setPen(QPen(color, isLit ? 2.4 : 1.6));
  painter.setBrush(color);
  // One that points at the viewer is a dot.
  if (length < kHeadPixels) {
    painter.drawEllipse(to, kHeadWidth, kHeadWidth);
    return;
  }
  const QPointF along = way / length, across(-along.y(), along.x());
  painter.drawLine(from, to - along * kHeadPixels);
  painter.drawPolygon(QPolygonF{to, to - along * kHeadPixels + across * kHeadWidth,
                                to - along * kHeadPixels - across * kHeadWidth});
}

}  // namespace comet
