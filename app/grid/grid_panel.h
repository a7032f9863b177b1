// The influence grid in its panel, with what adds to it, and the camera and the scene in its corner.
#pragma once

#include "session/background_answer.h"
#include "session/background_run.h"
#include "session/document.h"
#include "session/emitter_presets.h"

#include <QWidget>
#include <vector>

class QScrollArea;
class QToolButton;

namespace comet {

class InfluenceGrid;

class GridPanel : public QWidget {
  Q_OBJECT

 public:
  GridPanel(Document& document, BackgroundRun& run, QWidget* parent = nullptr);

  // In which all rows are seen, at the present width.
  int neededHeight() const;

 Q_SIGNALS:
  void neededHeightChanged();
  void failed(const QString& problem);

 protected:
  void resizeEvent(QResizeEvent* event) override;

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

  // The scene's own items, in the corner that the heads leave.
  QWidget* makeCorner(QWidget* parent);

  Document& document_;
  InfluenceGrid* grid_;
  QScrollArea* scroll_;
  QToolButton* presetsButton_;
  BackgroundAnswer<std::vector<OfferedPreset>> presets_;
};

}  // namespace comet
