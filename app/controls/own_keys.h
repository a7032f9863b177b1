// Keys that a control uses itself although the window has a shortcut for them.
#pragma once

#include <QEvent>
#include <QKeyEvent>
#include <initializer_list>

namespace comet {

// True if the event asks who takes a key, and it is one of `keys` without Ctrl or Alt: it was then accepted,
// and comes again as a key press. Call it first thing in QWidget::event.
inline bool claimsKey(QEvent* event, std::initializer_list<int> keys) {
  if (event->type() != QEvent::ShortcutOverride) return false;
  const auto* key = static_cast<QKeyEvent*>(event);
  if (key->modifiers() & (Qt::ControlModifier | Qt::AltModifier)) return false;
  for (const int wanted : keys)
    if (key->key() == wanted) {
      event->accept();
      return true;
    }
  return false;
}

}  // namespace comet
