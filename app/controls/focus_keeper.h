// Keeps the keyboard where it is while the children of a widget are made again.
//
// A child that is hidden hands the keyboard to the next one in the window, and a scroll area then scrolls to
// that: what was under the pointer would lie elsewhere.
#pragma once

#include <QApplication>
#include <QString>
#include <QWidget>

namespace comet {

class FocusKeeper {
 public:
  // Notes which child of `parent` has the keyboard, by its name.
  explicit FocusKeeper(QWidget& parent) : parent_(parent) {
    const QWidget* focused = QApplication::focusWidget();
    if (!focused || focused == &parent || !parent.isAncestorOf(focused)) return;
    name_ = focused->objectName();
    parent.setFocus(Qt::OtherFocusReason);
  }
  // Gives the keyboard to the child that bears this name now.
  ~FocusKeeper() {
    if (name_.isEmpty()) return;
    if (auto* child = parent_.findChild<QWidget*>(name_)) child->setFocus(Qt::OtherFocusReason);
  }
  FocusKeeper(const FocusKeeper&) = delete;
  FocusKeeper& operator=(const FocusKeeper&) = delete;

 private:
  QWidget& parent_;
  QString name_;
};

}  // namespace comet
