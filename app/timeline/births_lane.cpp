#include "timeline/births_lane.h"

#include "controls/typed_number.h"
#include "scene/item_reference.h"
#include "theme/theme.h"
#include "theme/words.h"

#include <QPainterPath>
#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr double kBurstReach = 4;
constexpr double kTopFraction = 0.9;  // of the lane's height, where the rate is greatest

}  // namespace

BirthsLane::BirthsLane(Document& document, QObject* owner, std::function<void()> update)
    : document_(document),
      update_(std::move(update)),
      answer_(owner, [this](const std::vector<Births>& births) { show(births); }) {}

void BirthsLane::reread() {
  answer_.ask([scene = document_.scene(), frame = document_.frame()](const Progress& progress) {
    std::vector<Births> all;
    for (const Scene::ItemPtr& emitter : scene.itemsOf(ItemFamily::Emitter)) {
      progress.stopIfCancelled();
      Births births{emitter->id, birthsOutlook(scene, *emitter, frame), 0};
      for (const ExpectedBirths& each : births.outlook.perFrame)
        births.max = std::max(births.max, each.fromRate);
      all.push_back(std::move(births));
    }
    return all;
  });
}

void BirthsLane::show(std::vector<Births> births) {
  // While it is dragged, the area keeps its scale, or its top would not follow.
  for (Births& each : births)
    if (const Births* before = birthsOf(each.emitter);
        before && held_ && held_->place.emitter == each.emitter)
      each.max = before->max;
  births_ = std::move(births);
  update_();
}

const BirthsLane::Births* BirthsLane::birthsOf(ItemId emitter) const {
  const auto found = std::find_if(births_.begin(), births_.end(),
                                  [emitter](const Births& births) { return births.emitter == emitter; });
  return found == births_.end() ? nullptr : &*found;
}

QPointF BirthsLane::topAt(const Place& place, int frame) const {
  const Births* births = birthsOf(place.emitter);
  const int index = frame - place.scale.range.first;
  double fraction = 0;
  if (births && births->max > 0 && index >= 0 && index < static_cast<int>(births->outlook.perFrame.size()))
    fraction =
        kTopFraction * births->outlook.perFrame[static_cast<std::size_t>(index)].fromRate / births->max;
  return {place.scale.xOf(frame), place.lane.bottom() - std::min(1.0, fraction) * place.lane.height()};
}

QPointF BirthsLane::tickOf(const Place& place, std::size_t burst) const {
  const auto& bursts = std::get<BurstList>(document_.scene().find(place.emitter)->value("bursts").base);
  return {place.scale.xOf(bursts[burst].frame), place.lane.center().y()};
}

void BirthsLane::paint(QPainter& painter, const Place& place, const QColor& color) const {
  const Births* births = birthsOf(place.emitter);
  if (!births) return;
  const FrameRange& range = place.scale.range;
  const QRectF& lane = place.lane;
  QPainterPath area(QPointF(place.scale.xOf(range.first), lane.bottom()));
  std::vector<double> bursts;
  for (int frame = range.first; frame <= range.last; ++frame) {
    area.lineTo(topAt(place, frame));
    // What is drawn may still be that of another range.
    const auto index = static_cast<std::size_t>(frame - range.first);
    if (index < births->outlook.perFrame.size() && births->outlook.perFrame[index].fromBursts > 0)
      bursts.push_back(place.scale.xOf(frame));
  }
  area.lineTo(place.scale.xOf(range.last), lane.bottom());
  painter.fillPath(area, theme::withAlpha(color, 80));
  painter.setPen(QPen(color, 1.6));
  for (const double x : bursts) painter.drawLine(QPointF(x, lane.top() + 2), QPointF(x, lane.bottom()));
  const Scene::ItemPtr emitter = document_.emitter(place.emitter);
  if (!emitter || (!births->outlook.isChild && births->outlook.none.empty())) return;
  const QString names = QString::fromStdString(sourceNames(document_.scene(), *emitter));
  painter.setPen(theme::kQuietText);
  painter.setFont(theme::font(11));
  painter.drawText(lane.adjusted(6, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft,
                   births->outlook.none.empty() ? tr("births from %1").arg(names)
                                                : QString::fromStdString(births->outlook.none));
}

std::optional<std::size_t> BirthsLane::burstAt(const Place& place, const QPointF& position) const {
  const Scene::ItemPtr emitter = document_.emitter(place.emitter);
  if (!emitter || !place.lane.contains(position)) return std::nullopt;
  const auto& bursts = std::get<BurstList>(emitter->value("bursts").base);
  for (std::size_t i = 0; i < bursts.size(); ++i)
    if (std::abs(tickOf(place, i).x() - position.x()) <= kBurstReach) return i;
  return std::nullopt;
}

BirthsLane::Part BirthsLane::partAt(const Place& place, const QPointF& position) const {
  if (burstAt(place, position)) return Part::Burst;
  const Births* births = birthsOf(place.emitter);
  if (!births || births->max <= 0 || !place.lane.contains(position)) return Part::None;
  const QPointF top = topAt(place, static_cast<int>(std::lround(place.scale.frameAt(position.x()))));
  const bool hasArea = top.y() < place.lane.bottom() - 1;
  return hasArea && std::abs(top.y() - position.y()) <= kBurstReach ? Part::Rate : Part::None;
}

bool BirthsLane::press(const Place& place, const QPointF& position) {
  const Part part = partAt(place, position);
  if (part == Part::None) return false;
  const Item& emitter = *document_.emitter(place.emitter);
  held_ =
      Held{place, burstAt(place, position), emitter.value(part == Part::Burst ? "bursts" : "rate"), position};
  document_.select(place.emitter);
  return true;
}

QString BirthsLane::drag(const QPointF& position) {
  if (!held_) return {};
  if (held_->burst)
    return moveBurst(std::round(held_->place.scale.frameAt(position.x()) -
                                held_->place.scale.frameAt(held_->pressedAt.x())));
  const double bottom = held_->place.lane.bottom();
  const double was = std::max(1.0, bottom - held_->pressedAt.y());
  return scaleRate(std::max(0.0, bottom - position.y()) / was);
}

QString BirthsLane::scaleRate(double factor) {
  ParamValue changed = held_->before;
  const auto scaled = [factor](double rate) {
    // To two figures behind the point, or to what a hand can place.
    const double wanted = rate * factor;
    return wanted >= 10 ? std::round(wanted) : std::round(wanted * 100) / 100;
  };
  if (changed.keys.empty()) changed.base = scaled(std::get<double>(changed.base));
  for (Key& key : changed.keys) key.value = scaled(std::get<double>(key.value));
  document_.setParam(held_->place.emitter, "rate", changed, "rate in timeline");
  const double now = document_.emitter(held_->place.emitter)->number("rate", document_.frame());
  return tr("rate %1 /s").arg(textFromNumber(now));
}

QString BirthsLane::moveBurst(double frames) {
  ParamValue changed = held_->before;
  Burst& burst = std::get<BurstList>(changed.base)[*held_->burst];
  const FrameRange& range = held_->place.scale.range;
  burst.frame =
      std::clamp(burst.frame + frames, static_cast<double>(range.first), static_cast<double>(range.last));
  const double frame = burst.frame;
  document_.setParam(held_->place.emitter, "bursts", changed, "burst in timeline");
  return tr("burst at frame %1").arg(textFromNumber(frame));
}

void BirthsLane::release() {
  if (!held_) return;
  held_.reset();
  document_.endMerge();
  reread();
}

}  // namespace comet
