#include "controls/mask_editor.h"

#include "controls/own_keys.h"
#include "controls/screen_image.h"
#include "io/picture_content.h"
#include "theme/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include <utility>

namespace comet {
namespace {

constexpr int kNoteHeight = 18;
constexpr double kMaxPixelSize = 32;  // pixels of the screen for one of the picture
constexpr int kMargin = 8;
constexpr int kMaxPixels = 2048;  // of a side: more takes too long on the window's thread

double distance(const QPointF& a, const QPointF& b) { return std::hypot(a.x() - b.x(), a.y() - b.y()); }

// After which point a new one belongs: the side that it lies nearest to.
std::size_t nearestSide(const OutlinePoints& points, const Vec2d& at) {
  std::size_t best = points.size() - 1;
  double min = 1e300;
  for (std::size_t i = 0; i < points.size(); ++i) {
    const Vec2d a = points[i].at, b = points[(i + 1) % points.size()].at;
    const Vec2d along = b - a;
    const double length = along.x * along.x + along.y * along.y;
    const Vec2d away = at - a;
    const double t = length > 0 ? std::clamp((away.x * along.x + away.y * along.y) / length, 0.0, 1.0) : 0;
    const Vec2d rest = away - along * t;
    const double squared = rest.x * rest.x + rest.y * rest.y;
    if (squared < min) {
      min = squared;
      best = i;
    }
  }
  return best;
}

}  // namespace

MaskEditor::MaskEditor(Document& document, ItemId emitter, QWidget* parent)
    : QWidget(parent), document_(document), emitter_(emitter) {
  setFocusPolicy(Qt::StrongFocus);
  setMinimumHeight(MaskEditor::sizeHint().height());
  setToolTip(tr(
      "Click to draw a mask, point by point; drag points and the pivot (the cross). Double-click a point to "
      "round it, right-click to remove it. Ctrl with the wheel, + and − zoom, the middle button pans, 0 "
      "shows all."));
  refresh();
}

Scene::ItemPtr MaskEditor::item() const { return document_.emitter(emitter_); }

void MaskEditor::refresh() {
  const Scene::ItemPtr emitter = item();
  if (!emitter) return;
  const auto& stored = std::get<OutlinePoints>(emitter->value("mask").base);
  // A draft that is too short to be stored stays.
  if (!stored.empty() || points_.size() >= kFewestOutlinePoints) points_ = stored;
  const auto content = emitter->content<PictureContent>("picture");
  if (!content) {
    image_ = {};
    shown_ = {};
  } else if (shown_ != content->digest()) {
    const auto picture = content->at(document_.frame());
    const int factor = std::max(picture->width(), picture->height()) / kMaxPixels;
    image_ = screenImageOverChecker(factor > 1 ? reduced(*picture, factor) : *picture);
    shown_ = content->digest();
    zoom_.reset();
  }
  update();
}

QRectF MaskEditor::room() const {
  return QRectF(rect()).adjusted(kMargin, kMargin, -kMargin, -kMargin - kNoteHeight);
}

QRectF MaskEditor::fitting() const {
  if (image_.isNull()) return room();
  QRectF fitted(QPointF(), QSizeF(image_.size()).scaled(room().size(), Qt::KeepAspectRatio));
  fitted.moveCenter(room().center());
  return fitted;
}

void MaskEditor::zoomAt(const QPointF& position, double by) {
  if (image_.isNull()) return;
  const double pixel = fitting().width() / image_.width();
  zoom_.zoomAt(position, by, fitting(), 1, std::max(1.0, kMaxPixelSize / pixel));
  if (zoom_.factor() == 1) zoom_.reset();
  update();
}

QRectF MaskEditor::cropped() const {
  const Scene::ItemPtr emitter = item();
  const auto fraction = [&](const char* param) { return emitter->number(param, document_.frame()) / 100.0; };
  const QPointF topLeft(fraction("crop_left"), fraction("crop_top"));
  const QPointF bottomRight(1 - fraction("crop_right"), 1 - fraction("crop_bottom"));
  return {topLeft, bottomRight};
}

QPointF MaskEditor::place(const Vec2d& fraction) const {
  const QRectF rect = pictureRect();
  return {rect.left() + fraction.x * rect.width(), rect.top() + fraction.y * rect.height()};
}

Vec2d MaskEditor::fractionAt(const QPointF& position) const {
  const QRectF rect = pictureRect();
  // To a pixel of the largest pictures.
  const auto tidy = [](double fraction) {
    return std::round(std::clamp(fraction, -0.1, 1.1) * 10000) / 10000;
  };
  return {tidy((position.x() - rect.left()) / rect.width()),
          tidy((position.y() - rect.top()) / rect.height())};
}

QPointF MaskEditor::pivotPlace() const {
  const QRectF part = cropped();
  return place({part.left() + part.width() * item()->number("pivot_x", document_.frame()) / 100,
                part.top() + part.height() * item()->number("pivot_y", document_.frame()) / 100});
}

int MaskEditor::pointAt(const QPointF& position) const {
  for (std::size_t i = 0; i < points_.size(); ++i)
    if (distance(place(points_[i].at), position) <= theme::kGripReach) return static_cast<int>(i);
  return -1;
}

void MaskEditor::offer(const OutlinePoints& points) {
  points_ = points;
  // Fewer than three points are no mask; an earlier one goes.
  const bool isMask = points_.size() >= kFewestOutlinePoints;
  document_.setBase(emitter_, "mask", isMask ? points_ : OutlinePoints(), "mask");
  update();
}

void MaskEditor::movePivot(const QPointF& position) {
  const QRectF part = cropped();
  const Vec2d fraction = fractionAt(position);
  const auto percent = [](double s) { return std::round(s * 1000) / 10; };
  Scene next = document_.scene();
  const auto set = [&](const char* param, double value) {
    if (!item()->value(param).keys.empty()) document_.holdFrame();
    next = next.withParam(emitter_, param, withValueAt(item()->value(param), value, document_.frame()));
  };
  set("pivot_x", percent((fraction.x - part.left()) / std::max(part.width(), 1e-6)));
  set("pivot_y", percent((fraction.y - part.top()) / std::max(part.height(), 1e-6)));
  document_.edit(next, tr("move pivot"), "pivot");
}

void MaskEditor::removePoint(int point) {
  OutlinePoints points = points_;
  points.erase(points.begin() + point);
  active_ = -1;
  offer(points);
  document_.endMerge();
}

void MaskEditor::mousePressEvent(QMouseEvent* event) {
  if (image_.isNull()) return;
  const QPointF position = event->position();
  if (event->button() == Qt::MiddleButton) {
    grip_ = Grip::Picture;
    dragged_ = position;
    return;
  }
  active_ = pointAt(position);
  if (event->button() == Qt::RightButton) {
    if (active_ >= 0) removePoint(active_);
    return;
  }
  if (active_ >= 0) {
    grip_ = Grip::Point;
  } else if (distance(pivotPlace(), position) <= theme::kGripReach) {
    grip_ = Grip::Pivot;
  } else {
    OutlinePoints points = points_;
    const bool isWhole = points.size() >= kFewestOutlinePoints;
    const std::size_t after = isWhole ? nearestSide(points, fractionAt(position)) + 1 : points.size();
    points.insert(points.begin() + static_cast<std::ptrdiff_t>(after), {fractionAt(position), false});
    active_ = static_cast<int>(after);
    grip_ = Grip::Point;
    offer(points);
  }
  update();
}

void MaskEditor::mouseMoveEvent(QMouseEvent* event) {
  if (grip_ == Grip::Picture) {
    zoom_.setShift(zoom_.shift() + event->position() - std::exchange(dragged_, event->position()));
    return update();
  }
  if (grip_ == Grip::Pivot) return movePivot(event->position());
  if (grip_ != Grip::Point || active_ < 0) return;
  OutlinePoints points = points_;
  points[static_cast<std::size_t>(active_)].at = fractionAt(event->position());
  offer(points);
}

void MaskEditor::mouseReleaseEvent(QMouseEvent*) {
  grip_ = Grip::None;
  document_.endMerge();
}

void MaskEditor::mouseDoubleClickEvent(QMouseEvent* event) {
  const int point = pointAt(event->position());
  if (point < 0) return;
  OutlinePoints points = points_;
  bool& smooth = points[static_cast<std::size_t>(point)].smooth;
  smooth = !smooth;
  offer(points);
  document_.endMerge();
}

void MaskEditor::keyPressEvent(QKeyEvent* event) {
  if (const auto by = PictureZoom::byKey(event->key())) return zoomAt(room().center(), *by);
  if (event->key() == Qt::Key_0) {
    zoom_.reset();
    return update();
  }
  if (event->key() == Qt::Key_Delete && active_ >= 0) return removePoint(active_);
  QWidget::keyPressEvent(event);
}

bool MaskEditor::event(QEvent* event) {
  return claimsKey(event, {Qt::Key_Plus, Qt::Key_Equal, Qt::Key_Minus, Qt::Key_0}) || QWidget::event(event);
}

// Without Ctrl the wheel scrolls the panel that the editor is in.
void MaskEditor::wheelEvent(QWheelEvent* event) {
  if (!event->modifiers().testFlag(Qt::ControlModifier)) return QWidget::wheelEvent(event);
  zoomAt(event->position(), PictureZoom::byWheel(event->angleDelta().y()));
  event->accept();
}

QString MaskEditor::note() const {
  if (image_.isNull()) return tr("choose a picture to cut");
  if (points_.empty()) return tr("click to draw a mask");
  if (points_.size() < kFewestOutlinePoints) return tr("%1 of 3 points: not a mask yet").arg(points_.size());
  return tr("mask of %1 points").arg(points_.size());
}

void MaskEditor::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setPen(hasFocus() ? theme::kAccent : theme::kLine);
  painter.setBrush(theme::kField);
  painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), theme::kRadius, theme::kRadius);
  painter.setPen(theme::kQuietText);
  painter.setFont(theme::font(11));
  painter.drawText(rect().adjusted(kMargin, 0, -kMargin, -4), Qt::AlignBottom | Qt::AlignLeft, note());
  if (image_.isNull()) return;
  // Points at the picture's edge are seen whole.
  constexpr double kAround = 0.5 * kMargin;
  painter.setClipRect(room().adjusted(-kAround, -kAround, kAround, kAround));
  // From close by, pixels are squares.
  painter.setRenderHint(QPainter::SmoothPixmapTransform, pictureRect().width() < 2 * image_.width());
  painter.drawImage(pictureRect(), image_);

  // What is left out is darkened.
  QPainterPath kept;
  const QRectF part = cropped();
  kept.addRect(QRectF(place({part.left(), part.top()}), place({part.right(), part.bottom()})));
  QPainterPath outline;
  for (const Vec2d& point : polygonOf(points_))
    outline.elementCount() == 0 ? outline.moveTo(place(point)) : outline.lineTo(place(point));
  outline.closeSubpath();
  if (points_.size() >= kFewestOutlinePoints) kept = kept.intersected(outline);
  QPainterPath all;
  all.addRect(pictureRect());
  painter.fillPath(all.subtracted(kept), theme::withAlpha(theme::kField, 180));
  painter.setPen(QPen(theme::kAccent, 1.4));
  painter.setBrush(Qt::NoBrush);
  if (!points_.empty()) painter.drawPath(outline);
  for (std::size_t i = 0; i < points_.size(); ++i) {
    painter.setBrush(static_cast<int>(i) == active_ ? theme::kAccent : theme::kField);
    const QPointF centre = place(points_[i].at);
    if (points_[i].smooth)
      painter.drawEllipse(centre, 4, 4);
    else
      painter.drawRect(QRectF(centre - QPointF(3.5, 3.5), QSizeF(7, 7)));
  }
  painter.setPen(QPen(theme::kWell, 1.6));
  const QPointF pivot = pivotPlace();
  painter.drawLine(pivot - QPointF(7, 0), pivot + QPointF(7, 0));
  painter.drawLine(pivot - QPointF(0, 7), pivot + QPointF(0, 7));
}

}  // namespace comet
