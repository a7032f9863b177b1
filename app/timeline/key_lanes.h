// The keys of the selected item, a lane for each parameter that has any.
//
// Click a key to choose it, with Shift one more; drag from an empty place to choose all within; drag a chosen
// key to shift them all, with Ctrl to stretch them. Delete removes, Ctrl+C and Ctrl+V copy to the current
// frame, Ctrl+A chooses all; right-click for more.
#pragma once

#include "scene/key_edit.h"
#include "session/document.h"
#include "timeline/time_scale.h"

#include <QPoint>
#include <QRectF>
#include <optional>

class QKeyEvent;
class QMenu;
class QPainter;

namespace comet {

class KeyLanes {
 public:
  explicit KeyLanes(Document& document) : document_(document) {}

  // Where the lanes lie; set before anything else is asked.
  void place(const TimeScale& scale, int top, int nameWidth);
  int height() const;
  bool contains(const QPointF& position) const;
  QPointF placeOf(const KeyName& key) const;
  const KeySet& chosen() const { return chosen_; }

  void paint(QPainter& painter, int right) const;
  // Whether something was taken hold of: a key, or a corner of the frame that chooses.
  void press(const QPointF& position, Qt::KeyboardModifiers modifiers);
  void drag(const QPointF& position, Qt::KeyboardModifiers modifiers);
  // Whether it was no more than a click on an empty place.
  bool release();
  bool handle(const QKeyEvent& event);
  void fillMenu(QMenu& menu);

  // Forgets what is no longer there.
  void reread();

 private:
  struct Lane {
    std::string param;
    std::string label;
    double y;
  };

  Scene::ItemPtr item() const { return document_.scene().find(document_.selected()); }
  std::optional<KeyName> keyAt(const QPointF& position) const;
  void moveChosen(const std::function<double(double)>& frame, const QString& mergeKey);
  void mirror();
  void removeChosen();
  void paste();

  Document& document_;
  TimeScale scale_;
  int top_ = 0, nameWidth_ = 0;
  std::vector<Lane> lanes_;
  ItemId itemId_ = 0;
  KeySet chosen_;
  KeySet copied_;
  std::optional<KeyName> held_;
  std::optional<QRectF> frame_;  // that chooses
  QPointF pressedAt_;
  Scene before_;  // as it was when the drag began
  KeySet chosenBefore_;
};

}  // namespace comet
