#include "viewport/stroke_tool.h"

#include "theme/theme.h"
#include "viewport/facing_plane.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <glm/matrix.hpp>

namespace comet {
namespace {

constexpr const char* kParam = "strokes";
constexpr double kTolerancePixels = 1.5;
constexpr int kPiecesOfSpan = 8;

}  // namespace

bool StrokeTool::isUsable() const {
  const Scene::ItemPtr selected = item();
  const auto index = selected ? selected->kind->find(kParam) : std::nullopt;
  return index && selected->applies(*index);
}

const StrokeList& StrokeTool::strokes() const { return std::get<StrokeList>(item()->value(kParam).base); }

Pose StrokeTool::pose() const {
  const Scene::ItemPtr selected = item();
  Pose own;
  own.position = selected->vector("position", document_.frame());
  if (selected->kind->find("rotation"))
    own.rotation = rotationFromDegrees(selected->vector("rotation", document_.frame()));
  return own;
}

Vec3d StrokeTool::toScene(const Vec3d& own) const { return pose().toScene(own); }

Vec3d StrokeTool::pointUnder(const Projector& projector, const QPointF& position,
                             const Vec3d& through) const {
  return rounded(pose().toOwn(pointOnFacingPlane(projector, position, through)));
}

std::optional<StrokeTool::Grip> StrokeTool::gripAt(const Projector& projector,
                                                   const QPointF& position) const {
  const StrokeList& all = strokes();
  for (std::size_t s = 0; s < all.size(); ++s)
    for (std::size_t p = 0; p < all[s].size(); ++p) {
      const QPointF away = pointAt(projector, s, p) - position;
      if (std::hypot(away.x(), away.y()) <= theme::kGripReach) return Grip{s, p};
    }
  return std::nullopt;
}

QPointF StrokeTool::pointAt(const Projector& projector, std::size_t stroke, std::size_t point) const {
  return pixel(projector.project(toScene(strokes()[stroke][point])));
}

void StrokeTool::set(StrokeList strokes) {
  document_.setBase(document_.selected(), kParam, std::move(strokes), "strokes");
}

bool StrokeTool::press(const Projector& projector, const QPointF& position) {
  if (!isUsable()) return false;
  if (document_.isDrawing()) {
    drawn_ = {pointUnder(projector, position, pose().position)};
    return true;
  }
  grip_ = gripAt(projector, position);
  return grip_.has_value();
}

bool StrokeTool::move(const Projector& projector, const QPointF& position) {
  if (!drawn_.empty()) {
    drawn_.push_back(pointUnder(projector, position, pose().position));
    return true;
  }
  if (!grip_) return false;
  StrokeList changed = strokes();
  Vec3d& point = changed[grip_->stroke][grip_->point];
  point = pointUnder(projector, position, toScene(point));
  set(std::move(changed));
  return true;
}

bool StrokeTool::release(const Projector& projector) {
  const bool wasActive = !drawn_.empty() || grip_;
  if (!drawn_.empty()) {
    const double tolerance =
        kTolerancePixels / std::max(1e-9, projector.project(pose().position).pixelsPerUnit);
    Stroke stroke = simplified(drawn_, tolerance);
    drawn_.clear();
    // A click alone is no stroke.
    if (stroke.size() >= kFewestStrokePoints && glm::length(stroke.back() - stroke.front()) > tolerance) {
      StrokeList changed = strokes();
      changed.push_back(std::move(stroke));
      set(std::move(changed));
    }
  }
  grip_.reset();
  if (wasActive) document_.endMerge();
  return wasActive;
}

bool StrokeTool::doubleClick(const Projector& projector, const QPointF& position) {
  if (!isUsable() || document_.isDrawing()) return false;
  const auto grip = gripAt(projector, position);
  if (!grip) return false;
  StrokeList changed = strokes();
  Stroke& stroke = changed[grip->stroke];
  stroke.erase(stroke.begin() + static_cast<std::ptrdiff_t>(grip->point));
  if (stroke.size() < kFewestStrokePoints)
    changed.erase(changed.begin() + static_cast<std::ptrdiff_t>(grip->stroke));
  grip_.reset();
  set(std::move(changed));
  document_.endMerge();
  return true;
}

void StrokeTool::paint(QPainter& painter, const Projector& projector) const {
  if (!isUsable()) return;
  const Scene::ItemPtr selected = item();
  const bool closes = selected->kind->find("closed") && selected->flag("closed", document_.frame());
  const auto drawLine = [&](const Stroke& stroke) {
    const std::vector<StrokeSpot> spots = smoothed(stroke, kPiecesOfSpan, closes);
    QPolygonF line;
    for (std::size_t i = 0; i < spots.size(); ++i) {
      const Projector::Point point = projector.project(toScene(spots[i].at));
      if (!projector.visible(point)) continue;
      line << pixel(point);
      if (i % (2 * kPiecesOfSpan) != kPiecesOfSpan || line.size() < 2) continue;
      // Which way it goes.
      const QPointF to = line.back(), offset = to - line[line.size() - 2];
      const double length = std::max(1e-6, std::hypot(offset.x(), offset.y()));
      const QPointF along = offset / length * 7, across(-along.y() * 0.5, along.x() * 0.5);
      painter.drawPolyline(QPolygonF({to - along + across, to, to - along - across}));
    }
    painter.drawPolyline(line);
  };
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(theme::kAccent, 1.6));
  for (const Stroke& stroke : strokes()) drawLine(stroke);
  if (!drawn_.empty()) drawLine(drawn_);
  painter.setPen(QPen(theme::kAccent, 1));
  painter.setBrush(theme::kGround);
  for (std::size_t s = 0; s < strokes().size(); ++s)
    for (std::size_t p = 0; p < strokes()[s].size(); ++p)
      painter.drawEllipse(pointAt(projector, s, p), 3.2, 3.2);
}

}  // namespace comet
