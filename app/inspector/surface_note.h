// What the surface of an emitter takes at the frame that is shown: the memory for its voxels, and whether
// they are too many or too coarse. Worked out behind the window.
#pragma once

#include "controls/note_label.h"
#include "session/background_answer.h"
#include "session/background_run.h"
#include "session/document.h"

namespace comet {

class SurfaceNote : public NoteLabel {
  Q_OBJECT

 public:
  // For an emitter that exists as long as the note. `run` may be null.
  SurfaceNote(Document& document, BackgroundRun* run, ItemId emitter, QWidget* parent = nullptr);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  struct Words {
    QString text;
    bool isTrouble = false;
  };

  void ask();

  Document& document_;
  BackgroundRun* run_;
  ItemId emitter_;
  bool isAsked_ = false;  // about the frame that is shown
  BackgroundAnswer<Words> words_;
};

}  // namespace comet
