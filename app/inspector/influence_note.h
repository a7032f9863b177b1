// What an influence is and does at the frame that is shown. Of a deflector: how it is met, what is wrong with
// its mesh, how often it was hit. Of a flock: how many neighbours its particles see, and whether the target.
#pragma once

#include "session/background_run.h"
#include "session/document.h"

#include <QLabel>

namespace comet {

class InfluenceNote : public QLabel {
  Q_OBJECT

 public:
  // For an influence that exists as long as the note. `run` may be null.
  InfluenceNote(Document& document, BackgroundRun* run, ItemId influence, QWidget* parent = nullptr);

  // Whether there is anything to say about a kind; then its note stands below its first parameter.
  static bool isFor(const KindSpec& kind);

 private:
  void reread();
  void refresh();
  QString hits(const ParticleFrame& frame) const;
  QString sight(const ParticleFrame& frame) const;

  Document& document_;
  BackgroundRun* run_;
  ItemId influence_;
  bool isFlock_;
  QString setUp_;  // what does not change from frame to frame
};

}  // namespace comet
