// The influence grid in its panel, with what adds to it, and the camera and the scene in its corner.
#pragma once

#include "session/background_run.h"
#include "session/document.h"

#include <QWidget>

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
  // Presets are to be chosen from.
  void presetsWanted();
  // An emitter is to be kept as one.
  void presetWanted(ItemId emitter);

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  // What adds gases of another kind than the usual one.
  QToolButton* otherGases();
  // To the scene that has one more, as withNewGas makes it.
  void addGas(const Scene& next);
  void addEmitter();

  // The scene's own items, in the corner that the heads leave.
  QWidget* makeCorner(QWidget* parent);
  // Whether rows can be scrolled to.
  void chooseBar();

  Document& document_;
  InfluenceGrid* grid_;
  QScrollArea* scroll_;
};

}  // namespace comet
