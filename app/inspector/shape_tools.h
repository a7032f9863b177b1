// Buttons below an emitter's shape that bring it into the plane of the view.
#pragma once

#include "session/document.h"

#include <QWidget>

class QPushButton;

namespace comet {

class ShapeTools : public QWidget {
  Q_OBJECT

 public:
  // For an emitter that exists as long as the tools.
  ShapeTools(Document& document, ItemId emitter, QWidget* parent = nullptr);

 Q_SIGNALS:
  void facingWanted();
  void fillingWanted();

 private:
  void refresh();

  Document& document_;
  ItemId emitter_;
  QPushButton* face_;
};

}  // namespace comet
