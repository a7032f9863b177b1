// Asks by how much a duplicate of an emitter is moved in space and in time.
#pragma once

#include "session/document.h"

#include <QWidget>

namespace comet {

class NumberField;

class DuplicatePopup : public QWidget {
  Q_OBJECT

 public:
  // Opens at a place on the screen and goes when it is done or left.
  static void open(Document& document, ItemId emitter, const QPoint& place, QWidget* parent);

 private:
  DuplicatePopup(Document& document, ItemId emitter, QWidget* parent);
  void duplicate();

  Document& document_;
  ItemId emitter_;
  NumberField* offset_[3];
  NumberField* later_;
};

}  // namespace comet
