// What is said below the parameters of a gas: what its voxels cost, and where it is cut off.
#pragma once

#include "controls/note_label.h"
#include "session/background_run.h"
#include "session/document.h"

#include <QWidget>

class QPushButton;

namespace comet {

// Voxels and memory, before anything runs; and what a frame of the preview takes, once one was simulated.
class GasCostNote : public NoteLabel {
  Q_OBJECT

 public:
  // For a gas that exists as long as the note. `run` may be null.
  GasCostNote(Document& document, BackgroundRun* run, ItemId gas, QWidget* parent = nullptr);

 private:
  void refresh();

  Document& document_;
  BackgroundRun* run_;
  ItemId gas_;
};

// The first frame in which gas comes to an open wall, and a button that enlarges the box there.
class GasWallsNote : public QWidget {
  Q_OBJECT

 public:
  GasWallsNote(Document& document, BackgroundRun* run, ItemId gas, QWidget* parent = nullptr);

 private:
  void refresh();
  void enlarge();

  Document& document_;
  BackgroundRun* run_;
  ItemId gas_;
  NoteLabel* words_;
  QPushButton* button_;
  unsigned walls_ = 0;  // that gas comes to in any frame
};

}  // namespace comet
