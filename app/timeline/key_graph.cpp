#include "timeline/key_graph.h"

#include "controls/key_shape.h"
#include "controls/typed_number.h"
#include "theme/theme.h"
#include "theme/words.h"

#include <QMenu>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include <limits>

namespace comet {
namespace {

constexpr double kNameHeight = 18;
constexpr CurveSide kSides[] = {CurveSide::Before, CurveSide::After};

// The largest of 1, 2 and 5 times a power of ten that goes about four times into the range.
double stepFor(double range) {
  const double decade = std::pow(10.0, std::floor(std::log10(range / 4)));
  for (const double factor : {5.0, 2.0})
    if (factor * decade <= range / 3) return factor * decade;
  return decade;
}

const CurveHandle& handleOf(const CurvePoint& point, CurveSide side) {
  return side == CurveSide::Before ? point.before : point.after;
}

}  // namespace

std::vector<std::string> KeyGraph::keyedParams() const {
  std::vector<std::string> params;
  const Scene::ItemPtr shown = item();
  for (std::size_t i = 0; shown && i < shown->values.size(); ++i)
    if (!shown->values[i].keys.empty()) params.push_back(shown->kind->params()[i].id);
  return params;
}

void KeyGraph::place(const TimeScale& scale, const QRectF& area) {
  scale_ = scale;
  area_ = area;
  const std::vector<std::string> params = keyedParams();
  if (std::find(params.begin(), params.end(), param_) == params.end())
    param_ = params.empty() ? std::string() : params.front();
  // While something is held the scale stays, or the curve would run away from the pointer.
  if (!held_) fitValues();
}

int KeyGraph::components() const { return componentsOf(item()->value(param_).base); }

void KeyGraph::fitValues() {
  if (param_.empty()) return;
  min_ = std::numeric_limits<double>::infinity();
  max_ = -min_;
  constexpr int kSamples = 120;
  for (int component = 0; component < components(); ++component) {
    const std::vector<CurvePoint> points = curveOf(track(), component);
    for (int i = 0; i <= kSamples; ++i) {
      const double frame = scale_.range.first + (scale_.range.count() - 1.0) * i / kSamples;
      const double value = sampleCurve(points, frame);
      min_ = std::min(min_, value);
      max_ = std::max(max_, value);
    }
  }
  const double margin = max_ > min_ ? 0.12 * (max_ - min_) : std::max(1.0, 0.5 * std::abs(max_));
  min_ -= margin;
  max_ += margin;
}

QPointF KeyGraph::placeOf(double frame, double value) const {
  return {scale_.xOf(frame), area_.bottom() - (value - min_) / (max_ - min_) * area_.height()};
}

double KeyGraph::valueAt(double y) const {
  return min_ + (area_.bottom() - y) / area_.height() * (max_ - min_);
}

std::optional<KeyGraph::Grip> KeyGraph::gripAt(const QPointF& position) const {
  if (param_.empty()) return std::nullopt;
  const auto isNear = [&position](const QPointF& grip) {
    return std::hypot(grip.x() - position.x(), grip.y() - position.y()) <= theme::kGripReach;
  };
  std::optional<Grip> found;
  for (int component = 0; component < components(); ++component) {
    const std::vector<CurvePoint> points = curveOf(track(), component);
    for (std::size_t i = 0; i < points.size(); ++i) {
      if (!found && isNear(placeOf(points[i].x, points[i].y))) found = Grip{component, i, {}};
      for (const CurveSide side : kSides) {
        const CurveHandle& handle = handleOf(points[i], side);
        if (hasHandle(points, i, side) && isNear(placeOf(points[i].x + handle.dx, points[i].y + handle.dy)))
          return Grip{component, i, side};
      }
    }
  }
  return found;
}

void KeyGraph::paintScale(QPainter& painter) const {
  painter.setFont(theme::font(10));
  const double step = stepFor(max_ - min_);
  const auto first = static_cast<long>(std::ceil(min_ / step)),
             last = static_cast<long>(std::floor(max_ / step));
  for (long line = first; line <= last; ++line) {
    const double value = static_cast<double>(line) * step;
    const double y = placeOf(scale_.range.first, value).y();
    painter.setPen(QPen(theme::withAlpha(theme::kLine, 150), 1));
    painter.drawLine(QPointF(area_.left(), y), QPointF(area_.right(), y));
    painter.setPen(theme::kQuietText);
    painter.drawText(QRectF(area_.left() + 3, y - 13, 60, 12), Qt::AlignLeft | Qt::AlignBottom,
                     textFromNumber(value));
  }
}

void KeyGraph::paintCurve(QPainter& painter, int component) const {
  const std::vector<CurvePoint> points = curveOf(track(), component);
  const QColor color = components() == 1 ? theme::kAccent : theme::kAxis[component];
  QPainterPath line;
  const int pieces = std::max(1, static_cast<int>(area_.width() / 2));
  for (int i = 0; i <= pieces; ++i) {
    const double frame = scale_.frameAt(area_.left() + area_.width() * i / pieces);
    const QPointF at = placeOf(frame, sampleCurve(points, frame));
    i == 0 ? line.moveTo(at) : line.lineTo(at);
  }
  painter.setPen(QPen(color, 1.6));
  painter.setBrush(Qt::NoBrush);
  painter.drawPath(line);
  if (components() > 1)
    painter.drawText(line.currentPosition() + QPointF(-10, -5), QString("xyz"[component]));
  for (std::size_t i = 0; i < points.size(); ++i) {
    const QPointF centre = placeOf(points[i].x, points[i].y);
    for (const CurveSide side : kSides) {
      if (!hasHandle(points, i, side)) continue;
      const CurveHandle& handle = handleOf(points[i], side);
      drawKeyHandle(painter, centre, placeOf(points[i].x + handle.dx, points[i].y + handle.dy));
    }
    const bool isHeld = held_ && held_->component == component && held_->key == i;
    painter.setPen(QPen(color, 1.5));
    drawKeyShape(painter, centre, points[i].toNext, isHeld);
  }
}

void KeyGraph::paint(QPainter& painter) const {
  painter.fillRect(area_, theme::kField);
  painter.setFont(theme::font(11));
  if (param_.empty()) {
    painter.setPen(theme::kQuietText);
    painter.drawText(area_.adjusted(10, 8, -10, -8), Qt::AlignTop | Qt::AlignLeft | Qt::TextWordWrap,
                     tr("Set keys in the inspector to see their curves here."));
    return;
  }
  double y = area_.top();
  const Scene::ItemPtr shown = item();
  for (const std::string& param : keyedParams()) {
    painter.setPen(param == param_ ? theme::kAccent : theme::kQuietText);
    const QRectF name(8, y, area_.left() - 12, kNameHeight);
    const QString label = QString::fromStdString(clearLabel(*shown->kind, shown->kind->indexOf(param)));
    painter.drawText(name, Qt::AlignVCenter | Qt::AlignLeft,
                     painter.fontMetrics().elidedText(label, Qt::ElideRight, static_cast<int>(name.width())));
    y += kNameHeight;
  }
  painter.save();
  painter.setClipRect(area_.adjusted(-6, 0, 6, 0), Qt::IntersectClip);
  paintScale(painter);
  for (int component = 0; component < components(); ++component) paintCurve(painter, component);
  painter.restore();
}

bool KeyGraph::chooseAt(const QPointF& position) {
  const std::vector<std::string> params = keyedParams();
  const double row = std::floor((position.y() - area_.top()) / kNameHeight);
  if (position.x() >= area_.left() || row < 0 || row >= static_cast<double>(params.size())) return false;
  param_ = params[static_cast<std::size_t>(row)];
  fitValues();
  return true;
}

bool KeyGraph::press(const QPointF& position) {
  held_ = gripAt(position);
  return held_.has_value();
}

void KeyGraph::drag(const QPointF& position, Qt::KeyboardModifiers modifiers) {
  if (!held_) return;
  KeyTrack changed = track();
  std::vector<CurvePoint> points = curveOf(changed, held_->component);
  CurvePoint& point = points[held_->key];
  const double frame = scale_.frameAt(position.x()), value = valueAt(position.y());
  if (held_->side) {
    moveHandle(points, held_->key, *held_->side, {frame - point.x, value - point.y},
               modifiers.testFlag(Qt::AltModifier));
  } else {
    // A key stays between its neighbours.
    const double min = held_->key > 0 ? points[held_->key - 1].x + 1 : -1e9;
    const double max = held_->key + 1 < points.size() ? points[held_->key + 1].x - 1 : 1e9;
    point.x = std::clamp(std::round(frame), min, max);
    // As fine as half a pixel, in readable numbers.
    const double grain = std::pow(10.0, std::floor(std::log10((max_ - min_) / area_.height())));
    point.y = std::round(value / grain) * grain;
  }
  setCurve(changed, held_->component, points);
  set(changed);
}

void KeyGraph::set(const KeyTrack& track) {
  ParamValue value = item()->value(param_);
  value.keys = track;
  document_.setParam(document_.selected(), param_, value, "graph");
}

void KeyGraph::release() {
  held_.reset();
  document_.endMerge();
}

void KeyGraph::addKey(const QPointF& position) {
  if (param_.empty() || gripAt(position)) return;
  const double frame = std::round(scale_.frameAt(position.x()));
  if (hasKeyAt(track(), frame)) return;
  Key key{frame, item()->value(param_).at(frame)};
  if (components() == 1) key.value = valueAt(position.y());
  set(withKey(track(), key));
  document_.endMerge();
}

bool KeyGraph::fillMenu(QMenu& menu, const QPointF& position) {
  const std::optional<Grip> grip = gripAt(position);
  if (!grip) return false;
  for (const auto& [label, interpolation] : interpolationLabels())
    menu.addAction(label, &menu, [this, key = grip->key, interpolation = interpolation] {
      KeyTrack changed = track();
      setInterpolation(changed, key, interpolation);
      set(changed);
      document_.endMerge();
    });
  menu.addSeparator();
  menu.addAction(tr("Remove"), &menu, [this, frame = track()[grip->key].frame] {
    ParamValue value = item()->value(param_);
    if (value.keys.size() == 1) value.base = value.keys.front().value;
    value.keys = withoutKey(value.keys, frame);
    document_.setParam(document_.selected(), param_, value);
  });
  return true;
}

}  // namespace comet
