// The influence grid in its panel, with what adds to it, and the row of the scene's other items under it.
#pragma once

#include "session/background_answer.h"
#include "session/background_run.h"
#include "session/document.h"
#include "session/emitter_presets.h"

#include <QWidget>
#include <vector>

class QToolButton;

namespace comet {

class InfluenceGrid;

class GridPanel : public QWidget {
  Q_OBJECT

 public:
  GridPanel(Document& document, BackgroundRun& run, QWidget* parent = nullptr);

 Q_SIGNALS:
  void failed(const QString& problem);

 private:
  struct OfferedPreset {
    EmitterPreset preset;
    QImage picture;
  };

  // What adds gases of another kind than the usual one.
  QToolButton* otherGases();
  // To the scene that has one more, as withNewGas makes it.
  void addGas(const Scene& next);
  void addEmitter();
  void askForPresets();
  void showPresets(const std::vector<OfferedPreset>& offered);
  void addPreset(const EmitterPreset& preset);

  Document& document_;
  QToolButton* presetsButton_;
  BackgroundAnswer<std::vector<OfferedPreset>> presets_;
};

}  // namespace comet
