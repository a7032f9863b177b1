#include "timeline/time_ruler.h"

#include "controls/typed_number.h"
#include "theme/theme.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr double kRangeEndReach = 5;
constexpr double kFlagWidth = 7, kFlagHeight = 8;

// Steps of 1, 2 or 5 times a power of ten, so that labels are at least `room` pixels apart.
double labelStep(double pixelsPerUnit, double room, double smallest) {
  for (double decade = smallest;; decade *= 10)
    for (const double step : {1.0, 2.0, 5.0})
      if (step * decade * pixelsPerUnit >= room) return step * decade;
}

}  // namespace

const MarkerList& TimeRuler::markers() const {
  return std::get<MarkerList>(document_.scene().settings().value("markers").base);
}

void TimeRuler::setMarkers(MarkerList markers, const QString& mergeKey) {
  std::sort(markers.begin(), markers.end(),
            [](const Marker& a, const Marker& b) { return a.frame < b.frame; });
  ParamValue value;
  value.base = std::move(markers);
  document_.setParam(document_.scene().settings().id, "markers", value, mergeKey);
}

void TimeRuler::removeMarker(double frame) {
  MarkerList kept = markers();
  kept.erase(std::remove_if(kept.begin(), kept.end(), [frame](const Marker& m) { return m.frame == frame; }),
             kept.end());
  setMarkers(std::move(kept));
}

void TimeRuler::setMarker(double frame, const QString& note) {
  MarkerList list = markers();
  list.erase(std::remove_if(list.begin(), list.end(), [frame](const Marker& m) { return m.frame == frame; }),
             list.end());
  list.push_back({frame, note.toStdString()});
  setMarkers(std::move(list));
}

QString TimeRuler::noteOf(double frame) const {
  for (const Marker& marker : markers())
    if (marker.frame == frame) return QString::fromStdString(marker.note);
  return {};
}

QRectF TimeRuler::flagOf(double frame) const {
  return {scale_.xOf(frame), area_.bottom() - kFlagHeight, kFlagWidth, kFlagHeight};
}

std::optional<double> TimeRuler::markerAt(const QPointF& position) const {
  for (const Marker& marker : markers())
    if (flagOf(marker.frame).adjusted(-3, -2, 3, 0).contains(position)) return marker.frame;
  return std::nullopt;
}

void TimeRuler::setPlayed(int first, int last, const QString& mergeKey) {
  const ItemId settings = document_.scene().settings().id;
  // One edit, so that undoing takes one step.
  Scene next = document_.scene();
  const auto set = [&](const char* param, Value value) {
    ParamValue changed;
    changed.base = std::move(value);
    next = next.withParam(settings, param, changed);
  };
  set("use_playback_range", true);
  set("playback_first", static_cast<double>(first));
  set("playback_last", static_cast<double>(last));
  document_.edit(next, QObject::tr("change playback range"), mergeKey);
}

void TimeRuler::playFrom(double frame) {
  const FrameRange played = playedRange(document_.scene());
  const int first = static_cast<int>(frame);
  setPlayed(first, first <= played.last ? played.last : scale_.range.last);
}

void TimeRuler::playUntil(double frame) {
  const FrameRange played = playedRange(document_.scene());
  const int last = static_cast<int>(frame);
  setPlayed(last >= played.first ? played.first : scale_.range.first, last);
}

void TimeRuler::playAll() { document_.setBase(document_.scene().settings().id, "use_playback_range", false); }

TimeRuler::Grip TimeRuler::gripAt(const QPointF& position) const {
  if (!area_.contains(position)) return Grip::None;
  if (markerAt(position)) return Grip::Marker;
  const FrameRange played = playedRange(document_.scene());
  if (played == scale_.range) return Grip::None;
  // Only at the ruler's upper edge, so that the ruler is still there to go to frames.
  if (position.y() > area_.top() + 6) return Grip::None;
  if (std::abs(position.x() - scale_.xOf(played.first)) <= kRangeEndReach) return Grip::First;
  if (std::abs(position.x() - scale_.xOf(played.last)) <= kRangeEndReach) return Grip::Last;
  return Grip::None;
}

bool TimeRuler::isOverGrip(const QPointF& position) const { return gripAt(position) != Grip::None; }

bool TimeRuler::press(const QPointF& position) {
  grip_ = gripAt(position);
  if (grip_ == Grip::Marker) {
    heldMarker_ = *markerAt(position);
    heldNote_ = noteOf(heldMarker_).toStdString();
    markersBefore_ = markers();
    markersBefore_.erase(std::remove_if(markersBefore_.begin(), markersBefore_.end(),
                                        [this](const Marker& m) { return m.frame == heldMarker_; }),
                         markersBefore_.end());
  }
  return grip_ != Grip::None;
}

void TimeRuler::drag(const QPointF& position) {
  const int frame = std::clamp(static_cast<int>(std::lround(scale_.frameAt(position.x()))),
                               scale_.range.first, scale_.range.last);
  const FrameRange played = playedRange(document_.scene());
  if (grip_ == Grip::First) setPlayed(std::min(frame, played.last), played.last, "played");
  if (grip_ == Grip::Last) setPlayed(played.first, std::max(frame, played.first), "played");
  if (grip_ != Grip::Marker || frame == heldMarker_) return;
  const bool isTaken = std::any_of(markersBefore_.begin(), markersBefore_.end(),
                                   [frame](const Marker& m) { return m.frame == frame; });
  if (isTaken) return;
  heldMarker_ = frame;
  MarkerList list = markersBefore_;
  list.push_back({heldMarker_, heldNote_});
  setMarkers(std::move(list), "marker");
}

void TimeRuler::release() {
  if (grip_ != Grip::None) document_.endMerge();
  grip_ = Grip::None;
}

void TimeRuler::paint(QPainter& painter) const {
  paintPlayed(painter);
  paintTicks(painter);
  painter.setFont(theme::font(10));
  for (const Marker& marker : markers()) {
    if (!scale_.range.contains(static_cast<int>(marker.frame))) continue;
    const QRectF flag = flagOf(marker.frame);
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::kWell);
    painter.drawPolygon(
        QPolygonF({flag.topLeft(), QPointF(flag.right(), flag.center().y()), flag.bottomLeft()}));
  }
}

void TimeRuler::paintTicks(QPainter& painter) const {
  const double rate = frameRate(document_.scene());
  const bool showsSeconds = document_.timeDisplay() == TimeDisplay::Seconds;
  const double pixels = scale_.pixelsPerFrame() * (showsSeconds ? rate : 1);
  const double smallest = showsSeconds ? 0.01 : 1;
  const double step = labelStep(pixels, 46, smallest), small = labelStep(pixels, 6, smallest);
  const double first = showsSeconds ? 0 : scale_.range.first;
  const double last = showsSeconds ? (scale_.range.count() - 1) / rate : scale_.range.last;
  const auto xOf = [&](double mark) {
    return scale_.xOf(showsSeconds ? scale_.range.first + mark * rate : mark);
  };
  painter.setFont(theme::font(10));
  const auto drawTick = [&](double mark, bool isLabelled) {
    const double x = xOf(mark);
    painter.setPen(QPen(isLabelled ? theme::kQuietText : theme::kLine, 1));
    painter.drawLine(QPointF(x, area_.bottom() - (isLabelled ? 6 : 3)), QPointF(x, area_.bottom()));
    const QString text = textFromNumber(mark) + (showsSeconds ? " s" : "");
    if (isLabelled) painter.drawText(QRectF(x - 25, area_.top() + 1, 50, 14), Qt::AlignCenter, text);
  };
  drawTick(first, true);
  for (int i = static_cast<int>(std::ceil(first / small)); i * small <= last + 1e-9; ++i) {
    const double mark = i * small, steps = mark / step;
    // A label right after the first one would overlap it.
    const bool isLabelled = std::abs(steps - std::round(steps)) < 1e-6 && (mark - first) * pixels > 26;
    if (mark > first) drawTick(std::round(mark * 100) / 100, isLabelled);
  }
}

void TimeRuler::paintPlayed(QPainter& painter) const {
  const FrameRange played = playedRange(document_.scene());
  if (played == scale_.range) return;
  const double left = scale_.xOf(played.first), right = scale_.xOf(played.last);
  painter.fillRect(QRectF(left, area_.top(), right - left, area_.height()),
                   theme::withAlpha(theme::kWell, 45));
  painter.setPen(QPen(theme::kWell, 2));
  for (const double side : {1.0, -1.0}) {
    const double x = side > 0 ? left : right;
    painter.drawLine(QPointF(x, area_.top() + 1), QPointF(x, area_.bottom()));
    painter.drawLine(QPointF(x, area_.top() + 2), QPointF(x + side * 5, area_.top() + 2));
  }
}

}  // namespace comet
