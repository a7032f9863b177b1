// Says what an emitter's surface takes of memory at the frame that is shown, and if that is too much.
#pragma once

#include "session/background_run.h"
#include "session/document.h"

#include <QLabel>

namespace comet {

class SurfaceNote : public QLabel {
  Q_OBJECT

 public:
  // For an emitter that exists as long as the note. `run` may be null.
  SurfaceNote(Document& document, BackgroundRun* run, ItemId emitter, QWidget* parent = nullptr);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();

  Document& document_;
  BackgroundRun* run_;
  ItemId emitter_;
};

}  // namespace comet
