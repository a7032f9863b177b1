// A small window that says how strongly an emitter's particles answer to an influence over their life.
#pragma once

#include "session/document.h"

#include <QWidget>

namespace comet {

class CurveLane;

class ResponsePopup : public QWidget {
  Q_OBJECT

 public:
  static void open(Document& document, ItemId emitter, ItemId influence, const QPoint& place,
                   QWidget* parent);

 private:
  ResponsePopup(Document& document, ItemId emitter, ItemId influence, QWidget* parent);

  void set(const std::optional<Curve>& overAge, bool merges);

  Document& document_;
  ItemId emitter_, influence_;
  CurveLane* lane_;
};

}  // namespace comet
