// A list to choose from that leaves the mouse wheel to the panel around it: scrolling a panel must not change
// what lies under the pointer.
//
// What it offers may be refreshed at any time, as with each frame that plays: while the list is open it stays
// as it is, so that a click always chooses what it points at.
#pragma once

#include <QAbstractItemView>
#include <QComboBox>
#include <QList>
#include <QPair>
#include <QWheelEvent>

namespace comet {

class ChoiceBox : public QComboBox {
  Q_OBJECT

 public:
  using QComboBox::QComboBox;

  using Entry = QPair<QString, QString>;  // what is read, and what it stands for
  // Puts the entries in place of those that are there.
  void offer(const QList<Entry>& entries);
  // Shows the entry that stands for this.
  void showEntry(const QString& meaning);

 protected:
  void wheelEvent(QWheelEvent* event) override { event->ignore(); }

 private:
  bool isOpen() const { return view()->isVisible(); }
};

}  // namespace comet
