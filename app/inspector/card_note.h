// What the cards of an emitter cost, before they are simulated, and how they are at the frame that is shown.
// Worked out behind the window.
#pragma once

#include "controls/note_label.h"
#include "session/background_answer.h"
#include "session/background_run.h"
#include "session/document.h"

namespace comet {

class CardNote : public NoteLabel {
  Q_OBJECT

 public:
  // For an emitter that exists as long as the note. `run` may be null.
  CardNote(Document& document, BackgroundRun* run, ItemId emitter, QWidget* parent = nullptr);

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
  BackgroundAnswer<Words> words_;
};

}  // namespace comet
