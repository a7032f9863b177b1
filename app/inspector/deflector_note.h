// What a deflector is and does at the frame that is shown: how it is met, what is wrong with its mesh, how
// often it was hit.
#pragma once

#include "session/background_run.h"
#include "session/document.h"

#include <QLabel>

namespace comet {

class DeflectorNote : public QLabel {
  Q_OBJECT

 public:
  // For a deflector that exists as long as the note. `run` may be null.
  DeflectorNote(Document& document, BackgroundRun* run, ItemId deflector, QWidget* parent = nullptr);

 private:
  void reread();
  void refresh();

  Document& document_;
  BackgroundRun* run_;
  ItemId deflector_;
  QString setUp_;  // what does not change from frame to frame
};

}  // namespace comet
