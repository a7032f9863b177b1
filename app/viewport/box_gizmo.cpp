#include "viewport/box_gizmo.h"

#include "theme/theme.h"
#include "viewport/facing_plane.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr double kHalfHandle = 4;
constexpr double kThinnest = 0.01;

constexpr std::array<BoxGizmo::Face, 6> kFaces{
    {{0, false}, {0, true}, {1, false}, {1, true}, {2, false}, {2, true}}};

Vec3d outwards(const BoxGizmo::Face& face) {
  Vec3d vector(0.0);
  vector[face.axis] = face.isUpper ? 1 : -1;
  return vector;
}

}  // namespace

Vec3d BoxGizmo::placeOf(const Box& box, const Face& face) {
  return box.middle + outwards(face) * (0.5 * box.size[face.axis]);
}

QPointF BoxGizmo::handle(const Projector& projector, const Box& box, const Face& face) const {
  return pixel(projector.project(placeOf(box, face)));
}

std::optional<BoxGizmo::Face> BoxGizmo::faceAt(const Projector& projector, const Box& box,
                                               const QPointF& position) const {
  std::optional<Face> found;
  double nearest = theme::kGripReach;
  for (const Face& face : kFaces) {
    const Projector::Point point = projector.project(placeOf(box, face));
    const double away = std::hypot(point.x - position.x(), point.y - position.y());
    if (!projector.visible(point) || away > nearest) continue;
    nearest = away;
    found = face;
  }
  return found;
}

void BoxGizmo::start(const Face& face, const Projector& projector, const Box& box, const QPointF& position) {
  held_ = face;
  startBox_ = box;
  startAt_ = pointOnLine(projector, position, placeOf(box, face), outwards(face))[face.axis];
}

BoxGizmo::Box BoxGizmo::moved(const Projector& projector, const QPointF& position) const {
  const Face& face = *held_;
  const Vec3d out = outwards(face);
  const double at = pointOnLine(projector, position, placeOf(startBox_, face), out)[face.axis];
  const double grown = std::max((at - startAt_) * out[face.axis], kThinnest - startBox_.size[face.axis]);
  Box box = startBox_;
  box.size[face.axis] += grown;
  box.middle[face.axis] += 0.5 * grown * out[face.axis];
  return box;
}

void BoxGizmo::paint(QPainter& painter, const Projector& projector, const Box& box,
                     const std::optional<Face>& hovered) const {
  const std::optional<Face>& lit = held_ ? held_ : hovered;
  for (const Face& face : kFaces) {
    const Projector::Point point = projector.project(placeOf(box, face));
    if (!projector.visible(point)) continue;
    const QColor color = lit == face ? theme::kAccent.lighter(125) : theme::kAxis[face.axis];
    painter.setPen(QPen(color, 1.6));
    painter.setBrush(theme::withAlpha(theme::kGround, 150));
    painter.drawRect(
        QRectF(pixel(point) - QPointF(kHalfHandle, kHalfHandle), QSizeF(2 * kHalfHandle, 2 * kHalfHandle)));
  }
}

}  // namespace comet
