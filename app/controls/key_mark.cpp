#include "controls/key_mark.h"

#include "theme/theme.h"

#include <QPainter>

namespace comet {

KeyMark::KeyMark(QWidget* parent) : QAbstractButton(parent) {
  setFixedSize(18, theme::kRowHeight);
  setFocusPolicy(Qt::TabFocus);
  setState(State::None);
}

void KeyMark::setState(State state) {
  state_ = state;
  const char* const tips[] = {"Not keyed. Click to set a key at this frame.",
                              "Keyed. Click to set a key at this frame; right-click for more.",
                              "Has a key at this frame. Click to remove it; right-click for more."};
  setToolTip(tr(tips[static_cast<int>(state)]));
  update();
}

QSize KeyMark::sizeHint() const { return {18, theme::kRowHeight}; }

void KeyMark::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const QPointF centre = QRectF(rect()).center();
  const bool bright = hasFocus() || underMouse();
  const QColor color =
      state_ == State::None ? (bright ? theme::kText : theme::kLine.lighter(150)) : theme::kAccent;
  painter.setPen(QPen(color, 1.3));
  painter.setBrush(state_ == State::KeyedHere ? color : Qt::transparent);
  constexpr double kReach = 4.2;
  painter.drawPolygon(QPolygonF({centre + QPointF(0, -kReach), centre + QPointF(kReach, 0),
                                 centre + QPointF(0, kReach), centre + QPointF(-kReach, 0)}));
}

}  // namespace comet
