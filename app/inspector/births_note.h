// What an emitter is expected to give, before anything is played: births in all, and how many live at each
// frame; and how many really do at the frame that is shown.
#pragma once

#include "session/background_answer.h"
#include "session/background_run.h"
#include "session/document.h"
#include "simulation/emission/births_outlook.h"

#include <QWidget>
#include <optional>

namespace comet {

class BirthsNote : public QWidget {
  Q_OBJECT

 public:
  // For an emitter that exists as long as the note.
  BirthsNote(Document& document, BackgroundRun* run, ItemId emitter, QWidget* parent = nullptr);

  // What it says in words.
  QString text() const;

  QSize sizeHint() const override { return {200, 56}; }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void ask();
  // Alive at the frame that is shown; nothing while it is not simulated.
  std::optional<std::size_t> aliveNow() const;

  Document& document_;
  BackgroundRun* run_;  // null where nothing is simulated
  ItemId emitter_;
  BirthsOutlook outlook_;
  BackgroundAnswer<BirthsOutlook> answer_;
};

}  // namespace comet
