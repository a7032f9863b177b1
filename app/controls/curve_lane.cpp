#include "controls/curve_lane.h"

#include "theme/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr double kGripReach = 8;
constexpr int kSamples = 160;

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

void CurveLane::setBand(double share) {
  band_ = share;
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

CurvePoint CurveLane::pointUnder(const QPointF& position) const {
  const double x = std::clamp((position.x() - area().left()) / area().width(), 0.0, 1.0);
  const double y = std::clamp((area().bottom() - position.y()) / area().height(), 0.0, 1.0) * top();
  return {x, y, Interpolation::Smooth};
}

int CurveLane::gripAt(const QPointF& position) const {
  for (std::size_t i = 0; i < curve_.points().size(); ++i) {
    const QPointF away = place(curve_.points()[i].x, curve_.points()[i].y) - position;
    if (std::hypot(away.x(), away.y()) <= kGripReach) return static_cast<int>(i);
  }
  return -1;
}

void CurveLane::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setPen(hasFocus() ? theme::kAccent : theme::kLine);
  painter.setBrush(theme::kField);
  painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), theme::kRadius, theme::kRadius);
  const int most = histogram_.empty() ? 0 : *std::max_element(histogram_.begin(), histogram_.end());
  for (std::size_t i = 0; most > 0 && i < histogram_.size(); ++i) {
    const double step = area().width() / static_cast<double>(histogram_.size());
    const double height = area().height() * histogram_[i] / most;
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
  for (std::size_t i = 0; i < curve_.points().size(); ++i) {
    const CurvePoint& point = curve_.points()[i];
    painter.setBrush(static_cast<int>(i) == active_ ? theme::kAccent : theme::kField);
    // Round for smooth, square for straight, flat for hold: what follows a point is told by its shape.
    const QPointF centre = place(point.x, point.y);
    if (point.toNext == Interpolation::Smooth)
      painter.drawEllipse(centre, 3.6, 3.6);
    else if (point.toNext == Interpolation::Linear)
      painter.drawRect(QRectF(centre - QPointF(3.2, 3.2), QSizeF(6.4, 6.4)));
    else
      painter.drawRect(QRectF(centre - QPointF(4.5, 2), QSizeF(9, 4)));
  }
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
  if (active_ < 0) return;
  if (event->button() == Qt::RightButton) return remove(active_);
  dragTop_ = top();
  dragging_ = true;
}

void CurveLane::mouseMoveEvent(QMouseEvent* event) {
  if (!dragging_ || active_ < 0) return;
  auto points = curve_.points();
  CurvePoint& point = points[static_cast<std::size_t>(active_)];
  const CurvePoint wanted = pointUnder(event->position());
  // A point stays between its neighbours, so that it keeps its place in the order.
  const double least = active_ > 0 ? points[static_cast<std::size_t>(active_) - 1].x : 0;
  const double most =
      active_ + 1 < static_cast<int>(points.size()) ? points[static_cast<std::size_t>(active_) + 1].x : 1;
  point.x = std::clamp(std::round(wanted.x * 1000) / 1000, least, most);
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
  if (const int grip = gripAt(event->position()); grip >= 0) {
    // The next way on from this point.
    Interpolation& way = points[static_cast<std::size_t>(grip)].toNext;
    way = way == Interpolation::Smooth   ? Interpolation::Linear
          : way == Interpolation::Linear ? Interpolation::Hold
                                         : Interpolation::Smooth;
  } else {
    points.push_back(pointUnder(event->position()));
  }
  offer(std::move(points));
  Q_EMIT finished();
}

void CurveLane::keyPressEvent(QKeyEvent* event) {
  if (open_ && event->key() == Qt::Key_Delete && active_ >= 0) return remove(active_);
  QWidget::keyPressEvent(event);
}

void CurveLane::remove(int point) {
  auto points = curve_.points();
  if (points.size() < 2) return;
  points.erase(points.begin() + point);
  active_ = -1;
  offer(std::move(points));
  Q_EMIT finished();
}

}  // namespace comet
