// The middle of the bake view: the sheet, its cells playing, the game's view, or two bakes compared, with
// what is looked at and on which ground.
#pragma once

#include "bake/bake_run.h"
#include "bake/sheet_look.h"

#include <QWidget>
#include <memory>
#include <vector>

class QButtonGroup;
class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QStackedWidget;

namespace comet {

class CellPlayer;
class CellPlot;
class CompareView;
class GameView;
class SheetView;

class BakeStage : public QWidget {
  Q_OBJECT

 public:
  explicit BakeStage(QWidget* parent = nullptr);

  void setSheet(const std::shared_ptr<const BakedSheet>& sheet);
  // Shows these cells on the sheet.
  void mark(const std::vector<int>& cells);
  void setPlaying(bool playing);
  bool isPlaying() const;

 private:
  enum Page { Sheet, Cells, Game, Compare };

  QWidget* makeBar();
  void showPage(int page);
  void setLook();

  std::shared_ptr<const BakedSheet> sheet_;
  QButtonGroup* pages_;
  QStackedWidget* stack_;
  QComboBox* channel_;
  QComboBox* ground_;
  QComboBox* mip_;
  QComboBox* compareWith_;
  QCheckBox* difference_;
  QPushButton* play_;
  QLabel* hover_;
  SheetView* view_;
  CellPlayer* player_;
  CellPlot* plot_;
  GameView* game_;
  CompareView* compare_;
};

}  // namespace comet
