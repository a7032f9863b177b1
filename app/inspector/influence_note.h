// What an influence is and does at the frame that is shown. Of a deflector: how it is met, what is wrong with
// its mesh, how often it was hit. Of a flock: how many neighbours its particles see, and whether the target;
// and beside the strengths and the speed limit, how many the limit holds. Worked out behind the window.
#pragma once

#include "controls/note_label.h"
#include "session/background_answer.h"
#include "session/background_run.h"
#include "session/document.h"
#include "simulation/influences/influences.h"

#include <QTimer>
#include <optional>

namespace comet {

class InfluenceNote : public NoteLabel {
  Q_OBJECT

 public:
  using About = KindNote::About;

  // For an influence that exists as long as the note. `run` may be null.
  InfluenceNote(Document& document, BackgroundRun* run, ItemId influence, About about,
                QWidget* parent = nullptr);

  // What there is to say below a parameter of an item, if anything.
  static std::optional<About> belowParam(const Item& item, std::size_t param);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  struct Words {
    QString text;
    bool isTrouble = false;
  };

  void askSoon();
  void ask();

  Document& document_;
  BackgroundRun* run_;
  ItemId influence_;
  About about_;
  QTimer pause_;  // between questions, so that frames which play do not overtake each answer
  BackgroundAnswer<Words> words_;
};

}  // namespace comet
