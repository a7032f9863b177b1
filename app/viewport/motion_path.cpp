#include "viewport/motion_path.h"

#include "theme/theme.h"
#include "viewport/facing_plane.h"

#include <cmath>

namespace comet {
namespace {

constexpr double kHandle = 4;
constexpr int kMaxSteps = 600;

}  // namespace

std::vector<std::string> MotionPath::params() const {
  std::vector<std::string> found;
  const Scene::ItemPtr selected = item();
  for (const char* param : {"position", "aim", "reach_position"}) {
    const auto index = selected ? selected->kind->find(param) : std::nullopt;
    if (index && selected->applies(*index) && selected->values[*index].keys.size() > 1)
      found.emplace_back(param);
  }
  return found;
}

QPointF MotionPath::keyAt(const Projector& projector, const std::string& param, std::size_t key) const {
  return pixel(projector.project(std::get<Vec3d>(item()->value(param).keys[key].value)));
}

std::optional<MotionPath::Grip> MotionPath::gripAt(const Projector& projector,
                                                   const QPointF& position) const {
  for (const std::string& param : params()) {
    const KeyTrack& keys = item()->value(param).keys;
    for (std::size_t key = 0; key < keys.size(); ++key) {
      const auto place = projector.project(std::get<Vec3d>(keys[key].value));
      const QPointF away = pixel(place) - position;
      if (projector.visible(place) && std::hypot(away.x(), away.y()) <= theme::kGripReach)
        return Grip{param, key};
    }
  }
  return std::nullopt;
}

bool MotionPath::press(const Projector& projector, const QPointF& position) {
  grip_ = gripAt(projector, position);
  return grip_.has_value();
}

bool MotionPath::move(const Projector& projector, const QPointF& position) {
  if (!grip_) return false;
  ParamValue changed = item()->value(grip_->param);
  auto& place = std::get<Vec3d>(changed.keys[grip_->key].value);
  place = rounded(pointOnFacingPlane(projector, position, place));
  document_.setParam(document_.selected(), grip_->param, changed, "motion path");
  return true;
}

bool MotionPath::release() {
  const bool wasHeld = grip_.has_value();
  grip_.reset();
  if (wasHeld) document_.endMerge();
  return wasHeld;
}

void MotionPath::paint(QPainter& painter, const Projector& projector) const {
  for (const std::string& param : params()) {
    const KeyTrack& keys = item()->value(param).keys;
    const double first = keys.front().frame, last = keys.back().frame;
    const int steps = std::clamp(static_cast<int>(last - first), 1, kMaxSteps);
    painter.setBrush(Qt::NoBrush);
    QPolygonF line;
    for (int i = 0; i <= steps; ++i) {
      const auto place = projector.project(item()->vector(param, first + (last - first) * i / steps));
      if (projector.visible(place)) line << pixel(place);
    }
    painter.setPen(QPen(theme::withAlpha(theme::kAccent, 150), 1.2));
    painter.drawPolyline(line);
    // How fast it goes is seen by how far its frames are apart.
    painter.setPen(QPen(theme::withAlpha(theme::kAccent, 220), 2.4, Qt::SolidLine, Qt::RoundCap));
    painter.drawPoints(line);
    painter.setFont(theme::font(10));
    for (std::size_t key = 0; key < keys.size(); ++key) {
      const auto place = projector.project(std::get<Vec3d>(keys[key].value));
      if (!projector.visible(place)) continue;
      const QPointF at = pixel(place);
      const bool isNow = keys[key].frame == document_.frame();
      painter.setPen(QPen(theme::kAccent, 1.4));
      painter.setBrush(isNow ? theme::kAccent : theme::kGround);
      painter.drawPolygon(QPolygonF({at - QPointF(kHandle, 0), at - QPointF(0, kHandle),
                                     at + QPointF(kHandle, 0), at + QPointF(0, kHandle)}));
      painter.setPen(theme::kQuietText);
      painter.drawText(at + QPointF(6, -5), QString::number(keys[key].frame));
    }
  }
}

}  // namespace comet
