// A list to choose from that leaves the mouse wheel to the panel around it: scrolling a panel must not change
// what lies under the pointer.
#pragma once

#include <QComboBox>
#include <QWheelEvent>

namespace comet {

class ChoiceBox : public QComboBox {
  Q_OBJECT

 public:
  using QComboBox::QComboBox;

 protected:
  void wheelEvent(QWheelEvent* event) override { event->ignore(); }
};

}  // namespace comet
