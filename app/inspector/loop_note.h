// Says how long a scene that loops warms up, and what keeps it from repeating exactly.
#pragma once

#include "session/document.h"

#include <QLabel>

namespace comet {

class LoopNote : public QLabel {
  Q_OBJECT

 public:
  explicit LoopNote(Document& document, QWidget* parent = nullptr);

 private:
  void refresh();

  Document& document_;
};

}  // namespace comet
