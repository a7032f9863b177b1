#include "controls/curve_lane.h"

#include "controls/key_shape.h"
#include "theme/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr int kSamples = 160;
constexpr CurveSide kSides[] = {CurveSide::Before, CurveSide::After};

Interpolation nextInterpolation(Interpolation interpolation) {
  switch (interpolation) {
    case Interpolation::Smooth:
      return Interpolation::Linear;
    case Interpolation::Linear:
      return Interpolation::Hold;
    case Interpolation::Hold:
      return Interpolation::Bezier;
    case Interpolation::Bezier:
      break;
  }
  return Interpolation::Smooth;
}

}  // namespace

CurveLane::CurveLane(QWidget* parent) : QWidget(parent) {
  setFocusPolicy(Qt::StrongFocus);
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void CurveLane::setCurve(const Curve& curve) {
  if (curve == curve_) return;
  curve_ = curve;
  update();
}

void CurveLane::setBand(double fraction) {
  band_ = fraction;
  update();
}

void CurveLane::setHistogram(const std::vector<int>& counts) {
  histogram_ = counts;
  update();
}

void CurveLane::setOpen(bool open) {
  open_ = open;
  setFixedHeight(sizeHint().height());
  update();
}

QRectF CurveLane::area() const { return QRectF(rect()).adjusted(6, 4, -6, -4); }

// While a point is dragged the scale stays, or the curve would run away from the pointer.
double CurveLane::top() const { return dragging_ ? dragTop_ : std::max(1.0, curve_.largest()) * 1.05; }

QPointF CurveLane::place(double x, double y) const {
  return {area().left() + x * area().width(), area().bottom() - y / top() * area().height()};
}

CurvePoint CurveLane::placeUnder(const QPointF& position) const {
  return {(position.x() - area().left()) / area().width(),
          (area().bottom() - position.y()) / area().height() * top(), Interpolation::Smooth};
}

CurvePoint CurveLane::pointUnder(const QPointF& position) const {
  CurvePoint point = placeUnder(position);
  point.x = std::clamp(point.x, 0.0, 1.0);
  point.y = std::clamp(point.y, 0.0, top());
  return point;
}

QPointF CurveLane::handlePlace(std::size_t point, CurveSide side) const {
  const CurvePoint& from = curve_.points()[point];
  const CurveHandle& handle = side == CurveSide::Before ? from.before : from.after;
  return place(from.x + handle.dx, from.y + handle.dy);
}

CurveLane::Grip CurveLane::gripAt(const QPointF& position) const {
  const auto isNear = [&position](const QPointF& grip) {
    return std::hypot(grip.x() - position.x(), grip.y() - position.y()) <= theme::kGripReach;
  };
  // A handle that lies on its point is the one that is meant: the point has others to be held by.
  for (std::size_t i = 0; i < curve_.points().size(); ++i)
    for (const CurveSide side : kSides)
      if (hasHandle(curve_.points(), i, side) && isNear(handlePlace(i, side)))
        return {static_cast<int>(i), side};
  for (std::size_t i = 0; i < curve_.points().size(); ++i)
    if (isNear(place(curve_.points()[i].x, curve_.points()[i].y))) return {static_cast<int>(i), {}};
  return {};
}

void CurveLane::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setPen(hasFocus() ? theme::kAccent : theme::kLine);
  painter.setBrush(theme::kField);
  painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), theme::kRadius, theme::kRadius);
  const int max = histogram_.empty() ? 0 : *std::max_element(histogram_.begin(), histogram_.end());
  for (std::size_t i = 0; max > 0 && i < histogram_.size(); ++i) {
    const double step = area().width() / static_cast<double>(histogram_.size());
    const double height = area().height() * histogram_[i] / max;
    painter.fillRect(
        QRectF(area().left() + step * static_cast<double>(i), area().bottom() - height, step - 0.5, height),
        theme::withAlpha(theme::kWell, 38));
  }
  QPainterPath line, band;
  for (int i = 0; i <= kSamples; ++i) {
    const double x = static_cast<double>(i) / kSamples;
    const QPointF point = place(x, curve_.at(x));
    i == 0 ? line.moveTo(point) : line.lineTo(point);
    const QPointF upper = place(x, std::min(top(), curve_.at(x) * (1 + band_)));
    i == 0 ? band.moveTo(upper) : band.lineTo(upper);
  }
  if (band_ > 0) {
    for (int i = kSamples; i >= 0; --i) {
      const double x = static_cast<double>(i) / kSamples;
      band.lineTo(place(x, std::max(0.0, curve_.at(x) * (1 - band_))));
    }
    painter.fillPath(band, theme::withAlpha(theme::kAccent, 46));
  }
  painter.setPen(QPen(theme::kAccent, 1.6));
  painter.setBrush(Qt::NoBrush);
  painter.drawPath(line);
  if (!open_) return;
  drawHandles(painter);
  for (std::size_t i = 0; i < curve_.points().size(); ++i) {
    const CurvePoint& point = curve_.points()[i];
    painter.setPen(QPen(theme::kAccent, 1.6));
    drawKeyShape(painter, place(point.x, point.y), point.toNext, static_cast<int>(i) == active_.point);
  }
}

void CurveLane::drawHandles(QPainter& painter) const {
  for (std::size_t i = 0; i < curve_.points().size(); ++i)
    for (const CurveSide side : kSides)
      if (hasHandle(curve_.points(), i, side))
        drawKeyHandle(painter, place(curve_.points()[i].x, curve_.points()[i].y), handlePlace(i, side));
}

void CurveLane::offer(std::vector<CurvePoint> points) {
  curve_ = Curve(std::move(points));
  update();
  Q_EMIT edited(curve_);
}

void CurveLane::mousePressEvent(QMouseEvent* event) {
  Q_EMIT pressed();
  if (!open_) return;
  active_ = gripAt(event->position());
  update();
  if (active_.point < 0) return;
  if (event->button() == Qt::RightButton) {
    if (!active_.side) remove(active_.point);
    return;
  }
  dragTop_ = top();
  dragging_ = true;
}

void CurveLane::mouseMoveEvent(QMouseEvent* event) {
  if (!dragging_ || active_.point < 0) return;
  if (!active_.side) return movePoint(event->position());
  auto points = curve_.points();
  const auto i = static_cast<std::size_t>(active_.point);
  const CurvePoint wanted = placeUnder(event->position());
  moveHandle(points, i, *active_.side, {wanted.x - points[i].x, wanted.y - points[i].y},
             event->modifiers().testFlag(Qt::AltModifier));
  offer(std::move(points));
}

void CurveLane::movePoint(const QPointF& position) {
  auto points = curve_.points();
  const auto i = static_cast<std::size_t>(active_.point);
  CurvePoint& point = points[i];
  const CurvePoint wanted = pointUnder(position);
  // A point stays between its neighbours, so that it keeps its place in the order.
  const double min = i > 0 ? points[i - 1].x : 0;
  const double max = i + 1 < points.size() ? points[i + 1].x : 1;
  point.x = std::clamp(std::round(wanted.x * 1000) / 1000, min, max);
  point.y = std::round(wanted.y * 1000) / 1000;
  offer(std::move(points));
}

void CurveLane::mouseReleaseEvent(QMouseEvent*) {
  if (!dragging_) return;
  dragging_ = false;
  update();
  Q_EMIT finished();
}

void CurveLane::mouseDoubleClickEvent(QMouseEvent* event) {
  if (!open_) return;
  auto points = curve_.points();
  if (const Grip grip = gripAt(event->position()); grip.point >= 0) {
    const auto i = static_cast<std::size_t>(grip.point);
    const Interpolation interpolation = nextInterpolation(points[i].toNext);
    if (interpolation == Interpolation::Bezier && i + 1 < points.size())
      freeFrom(points, i);
    else
      points[i].toNext = interpolation;
  } else {
    points.push_back(pointUnder(event->position()));
  }
  offer(std::move(points));
  Q_EMIT finished();
}

void CurveLane::keyPressEvent(QKeyEvent* event) {
  if (open_ && event->key() == Qt::Key_Delete && active_.point >= 0) return remove(active_.point);
  QWidget::keyPressEvent(event);
}

void CurveLane::remove(int point) {
  auto points = curve_.points();
  if (points.size() < 2) return;
  points.erase(points.begin() + point);
  active_ = {};
  offer(std::move(points));
  Q_EMIT finished();
}

}  // namespace comet
