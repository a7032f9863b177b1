#include "controls/gradient_editor.h"

#include "controls/color_picker.h"
#include "controls/own_keys.h"
#include "theme/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr int kStopReach = 6;
constexpr int kEditorHeight = 30;

}  // namespace

GradientEditor::GradientEditor(QWidget* parent) : QWidget(parent), picker_(new ColorPicker(this)) {
  setFocusPolicy(Qt::StrongFocus);
  setFixedHeight(kEditorHeight);
  setToolTip(
      tr("Drag a stop to move it, click it for its colour and position, double-click the bar to add one."));
  connect(picker_, &ColorPicker::edited, this, [this](const Vec3d& color) {
    auto stops = gradient_.stops();
    stops[static_cast<std::size_t>(active_)].color = color;
    offer(std::move(stops));
  });
  connect(picker_, &ColorPicker::positionEdited, this, [this](double fraction) {
    auto stops = gradient_.stops();
    stops[static_cast<std::size_t>(active_)].position = fraction;
    offer(std::move(stops));
  });
  connect(picker_, &ColorPicker::finished, this, &GradientEditor::finished);
}

void GradientEditor::setGradient(const Gradient& gradient, ColorMix mix) {
  if (gradient == gradient_ && mix == mix_) return;
  gradient_ = gradient;
  mix_ = mix;
  active_ = std::min(active_, static_cast<int>(gradient_.stops().size()) - 1);
  update();
}

QRectF GradientEditor::bar() const { return QRectF(rect()).adjusted(kStopReach, 1, -kStopReach, -14); }
double GradientEditor::xOf(double position) const { return bar().left() + position * bar().width(); }
double GradientEditor::positionAt(double x) const {
  return std::clamp((x - bar().left()) / bar().width(), 0.0, 1.0);
}

int GradientEditor::stopAt(const QPoint& position) const {
  if (position.y() < bar().bottom() - 2) return -1;
  int nearest = -1;
  double distance = kStopReach + 1;
  for (std::size_t i = 0; i < gradient_.stops().size(); ++i) {
    const double away = std::abs(xOf(gradient_.stops()[i].position) - position.x());
    if (away < distance) distance = away, nearest = static_cast<int>(i);
  }
  return nearest;
}

void GradientEditor::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  const QRectF area = bar();
  for (int i = 0; i < static_cast<int>(area.width()); ++i) {
    const double x = area.left() + i;
    painter.fillRect(QRectF(x, area.top(), 1.5, area.height()),
                     screenColor(gradient_.at(positionAt(x), mix_)));
  }
  painter.setPen(hasFocus() ? theme::kAccent : theme::kLine);
  painter.drawRect(area);
  painter.setRenderHint(QPainter::Antialiasing);
  for (std::size_t i = 0; i < gradient_.stops().size(); ++i) {
    const QPointF tip(xOf(gradient_.stops()[i].position), area.bottom() + 1);
    painter.setPen(QPen(static_cast<int>(i) == active_ ? theme::kAccent : theme::kText, 1.4));
    painter.setBrush(screenColor(gradient_.stops()[i].color));
    painter.drawPolygon(QPolygonF({tip, tip + QPointF(4.5, 5), tip + QPointF(4.5, 11),
                                   tip + QPointF(-4.5, 11), tip + QPointF(-4.5, 5)}));
  }
}

void GradientEditor::offer(std::vector<GradientStop> stops) {
  const GradientStop active = stops[static_cast<std::size_t>(active_)];
  gradient_ = Gradient(std::move(stops));
  const auto& sorted = gradient_.stops();
  active_ = static_cast<int>(std::find(sorted.begin(), sorted.end(), active) - sorted.begin());
  update();
  Q_EMIT edited(gradient_);
}

void GradientEditor::mousePressEvent(QMouseEvent* event) {
  const int stop = stopAt(event->pos());
  if (stop < 0) return;
  active_ = stop;
  update();
  if (event->button() == Qt::RightButton) return removeStop(stop);
  pressed_ = event->button() == Qt::LeftButton;
  moved_ = false;
}

void GradientEditor::mouseMoveEvent(QMouseEvent* event) {
  if (!pressed_) return;
  auto stops = gradient_.stops();
  double& position = stops[static_cast<std::size_t>(active_)].position;
  const double wanted = positionAt(event->pos().x());
  if (std::abs(xOf(position) - event->pos().x()) < 2 && !moved_) return;
  moved_ = true;
  position = wanted;
  offer(std::move(stops));
}

void GradientEditor::mouseReleaseEvent(QMouseEvent*) {
  if (!pressed_) return;
  pressed_ = false;
  if (moved_)
    Q_EMIT finished();
  else
    showPicker(active_);
}

void GradientEditor::mouseDoubleClickEvent(QMouseEvent* event) {
  if (stopAt(event->pos()) >= 0) return;
  auto stops = gradient_.stops();
  const double position = positionAt(event->pos().x());
  stops.push_back({position, gradient_.at(position, mix_)});
  active_ = static_cast<int>(stops.size()) - 1;
  offer(std::move(stops));
  Q_EMIT finished();
}

bool GradientEditor::event(QEvent* event) {
  return claimsKey(event, {Qt::Key_Left, Qt::Key_Right}) || QWidget::event(event);
}

void GradientEditor::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Delete) return removeStop(active_);
  if (event->key() == Qt::Key_Return) return showPicker(active_);
  const int count = static_cast<int>(gradient_.stops().size());
  if (event->key() == Qt::Key_Right || event->key() == Qt::Key_Left) {
    active_ = std::clamp(active_ + (event->key() == Qt::Key_Right ? 1 : -1), 0, count - 1);
    return update();
  }
  QWidget::keyPressEvent(event);
}

void GradientEditor::removeStop(int stop) {
  auto stops = gradient_.stops();
  if (stops.size() < 2) return;
  stops.erase(stops.begin() + stop);
  active_ = 0;
  offer(std::move(stops));
  Q_EMIT finished();
}

void GradientEditor::showPicker(int stop) {
  const GradientStop& chosen = gradient_.stops()[static_cast<std::size_t>(stop)];
  picker_->setColor(chosen.color);
  picker_->setPosition(chosen.position);
  const QPoint stopTop = mapToGlobal(QPoint(static_cast<int>(xOf(chosen.position)), 0));
  picker_->showBeside({stopTop, QSize(1, height())});
}

}  // namespace comet
