#include "timeline/key_lanes.h"

#include "controls/key_shape.h"
#include "theme/theme.h"
#include "theme/words.h"

#include <QKeyEvent>
#include <QMenu>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr int kLaneHeight = 18;
constexpr double kClickReach = 3;

}  // namespace

void KeyLanes::place(const TimeScale& scale, int top, int nameWidth) {
  scale_ = scale;
  top_ = top;
  nameWidth_ = nameWidth;
  lanes_.clear();
  const Scene::ItemPtr shown = item();
  for (std::size_t i = 0; shown && i < shown->values.size(); ++i)
    if (!shown->values[i].keys.empty())
      lanes_.push_back({shown->kind->params()[i].id, clearLabel(*shown->kind, i),
                        top + kLaneHeight * (static_cast<double>(lanes_.size()) + 0.5)});
}

void KeyLanes::reread() {
  const Scene::ItemPtr shown = item();
  const KeySet all = shown ? keysOf(*shown) : KeySet();
  KeySet kept;
  if (shown && shown->id == itemId_)
    std::set_intersection(chosen_.begin(), chosen_.end(), all.begin(), all.end(),
                          std::inserter(kept, kept.end()));
  else
    copied_.clear();
  itemId_ = shown ? shown->id : 0;
  chosen_ = std::move(kept);
}

int KeyLanes::height() const { return kLaneHeight * static_cast<int>(lanes_.size()); }

bool KeyLanes::contains(const QPointF& position) const {
  return position.x() >= nameWidth_ && position.y() >= top_ && position.y() < top_ + height();
}

QPointF KeyLanes::placeOf(const KeyName& key) const {
  const auto lane =
      std::find_if(lanes_.begin(), lanes_.end(), [&key](const Lane& l) { return l.param == key.first; });
  return {scale_.xOf(key.second), lane == lanes_.end() ? -1.0 : lane->y};
}

std::optional<KeyName> KeyLanes::keyAt(const QPointF& position) const {
  const Scene::ItemPtr shown = item();
  if (!shown) return std::nullopt;
  std::optional<KeyName> nearest;
  double reach = theme::kGripReach;
  for (const KeyName& key : keysOf(*shown)) {
    const QPointF away = placeOf(key) - position;
    const double distance = std::hypot(away.x(), away.y());
    if (distance > reach) continue;
    reach = distance;
    nearest = key;
  }
  return nearest;
}

void KeyLanes::paint(QPainter& painter, int right) const {
  const Scene::ItemPtr shown = item();
  if (!shown) return;
  painter.setFont(theme::font(11));
  for (const Lane& lane : lanes_) {
    painter.setPen(theme::kQuietText);
    const QRectF name(8, lane.y - kLaneHeight / 2.0, nameWidth_ - 12, kLaneHeight);
    painter.drawText(name, Qt::AlignVCenter | Qt::AlignLeft,
                     painter.fontMetrics().elidedText(QString::fromStdString(lane.label), Qt::ElideRight,
                                                      static_cast<int>(name.width())));
    painter.setPen(QPen(theme::kLine, 1));
    painter.drawLine(QPointF(nameWidth_, lane.y), QPointF(right, lane.y));
    for (const Key& key : shown->value(lane.param).keys) {
      const bool isChosen = chosen_.count({lane.param, key.frame}) != 0;
      painter.setPen(QPen(theme::kAccent, 1.4));
      drawKeyShape(painter, {scale_.xOf(key.frame), lane.y}, key.toNext, isChosen);
    }
  }
  if (!frame_) return;
  painter.setPen(QPen(theme::kAccent, 1, Qt::DashLine));
  painter.setBrush(theme::withAlpha(theme::kAccent, 30));
  painter.drawRect(*frame_);
}

void KeyLanes::press(const QPointF& position, Qt::KeyboardModifiers modifiers) {
  pressedAt_ = position;
  held_ = keyAt(position);
  frame_.reset();
  const bool adds = modifiers.testFlag(Qt::ShiftModifier);
  if (!held_) {
    if (!adds) chosen_.clear();
    chosenBefore_ = chosen_;
    return;
  }
  if (adds && chosen_.count(*held_) != 0) {
    chosen_.erase(*held_);
    held_.reset();
    return;
  }
  if (!adds && chosen_.count(*held_) == 0) chosen_.clear();
  chosen_.insert(*held_);
  before_ = document_.scene();
  chosenBefore_ = chosen_;
}

void KeyLanes::drag(const QPointF& position, Qt::KeyboardModifiers modifiers) {
  if (!held_) {
    if (!frame_ && (position - pressedAt_).manhattanLength() < kClickReach) return;
    frame_ = QRectF(pressedAt_, position).normalized();
    chosen_ = chosenBefore_;
    for (const KeyName& key : keysOf(*item()))
      if (frame_->adjusted(-4, -4, 4, 4).contains(placeOf(key))) chosen_.insert(key);
    return;
  }
  const double by = std::round(scale_.frameAt(position.x()) - scale_.frameAt(pressedAt_.x()));
  if (!modifiers.testFlag(Qt::ControlModifier))
    return moveChosen([by](double frame) { return frame + by; }, "keys");
  // Stretched from the far end, which stays.
  double first = held_->second, last = held_->second;
  for (const auto& [param, frame] : chosenBefore_) {
    first = std::min(first, frame);
    last = std::max(last, frame);
  }
  const double fixed = held_->second - first > last - held_->second ? first : last;
  if (fixed == held_->second) return;
  const double factor = (held_->second + by - fixed) / (held_->second - fixed);
  if (factor > 0) moveChosen([=](double frame) { return fixed + (frame - fixed) * factor; }, "keys");
}

void KeyLanes::moveChosen(const std::function<double(double)>& frame, const QString& mergeKey) {
  KeySet moved;
  const Scene next = withKeysMoved(before_, itemId_, chosenBefore_, frame, moved);
  document_.edit(next, tr("move keys"), mergeKey);
  chosen_ = moved;
}

bool KeyLanes::release() {
  const bool wasClick = !held_ && !frame_;
  held_.reset();
  frame_.reset();
  document_.endMerge();
  return wasClick;
}

void KeyLanes::mirror() {
  if (chosen_.empty()) return;
  double first = chosen_.begin()->second, last = first;
  for (const auto& [param, frame] : chosen_) {
    first = std::min(first, frame);
    last = std::max(last, frame);
  }
  before_ = document_.scene();
  chosenBefore_ = chosen_;
  moveChosen([=](double frame) { return first + last - frame; }, {});
}

void KeyLanes::removeChosen() {
  if (chosen_.empty()) return;
  const KeySet gone = std::exchange(chosen_, {});
  document_.edit(withoutKeys(document_.scene(), itemId_, gone), tr("remove keys"));
}

void KeyLanes::paste() {
  const Scene::ItemPtr shown = item();
  if (!shown) return;
  const KeySet all = keysOf(*shown);
  KeySet there;
  std::set_intersection(copied_.begin(), copied_.end(), all.begin(), all.end(),
                        std::inserter(there, there.end()));
  if (there.empty()) return;
  KeySet copied;
  const Scene next = withKeysCopied(document_.scene(), itemId_, there, document_.frame(), copied);
  document_.edit(next, tr("paste keys"));
  chosen_ = copied;
}

bool KeyLanes::handle(const QKeyEvent& event) {
  if (event.matches(QKeySequence::Copy) && !chosen_.empty())
    copied_ = chosen_;
  else if (event.matches(QKeySequence::Paste) && !copied_.empty())
    paste();
  else if (event.matches(QKeySequence::SelectAll) && item())
    chosen_ = keysOf(*item());
  else if ((event.key() == Qt::Key_Delete || event.key() == Qt::Key_Backspace) && !chosen_.empty())
    removeChosen();
  else
    return false;
  return true;
}

void KeyLanes::fillMenu(QMenu& menu) {
  const bool any = !chosen_.empty();
  for (const auto& [label, interpolation] : interpolationLabels())
    menu.addAction(label, &menu,
                   [this, interpolation = interpolation] {
                     document_.edit(withInterpolation(document_.scene(), itemId_, chosen_, interpolation),
                                    tr("change keys"));
                   })
        ->setEnabled(any);
  menu.addSeparator();
  menu.addAction(tr("Mirror in time"), &menu, [this] { mirror(); })->setEnabled(chosen_.size() > 1);
  menu.addAction(tr("Copy"), &menu, [this] { copied_ = chosen_; })->setEnabled(any);
  menu.addAction(tr("Paste at this frame"), &menu, [this] { paste(); })->setEnabled(!copied_.empty());
  menu.addAction(tr("Remove"), &menu, [this] { removeChosen(); })->setEnabled(any);
}

}  // namespace comet
