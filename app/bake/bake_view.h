// The bake view: settings of a bake, its sheet, one cell playing, and the files.
#pragma once

#include "bake/bake_run.h"
#include "session/document.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QProgressBar;
class QPushButton;

namespace comet {

class CellPlayer;
class SheetView;

class BakeView : public QWidget {
  Q_OBJECT

 public:
  explicit BakeView(Document& document, QWidget* parent = nullptr);

  // Called when the view is shown: shows the bake's settings, or what was selected before when it is left.
  void enter();
  void leave();

 private:
  QWidget* makeSettings();
  QWidget* makePlayer();
  void refresh();
  Scene::ItemPtr bake() const;
  void addBake();
  void startBake();
  void writeFiles();
  void showSheet(const std::shared_ptr<const BakedSheet>& sheet);
  void setBaking(bool baking);
  void say(const QString& text, bool isTrouble);

  Document& document_;
  BakeRun run_;
  std::shared_ptr<const BakedSheet> sheet_;
  ItemId selectedBefore_ = 0;
  QComboBox* bakes_;
  QLabel* plan_;
  QPushButton* start_;
  QPushButton* cancel_;
  QProgressBar* progress_;
  QLineEdit* folder_;
  QPushButton* write_;
  QLabel* message_;
  SheetView* view_;
  CellPlayer* player_;
  QPushButton* play_;
  QLabel* facts_;
  qint64 startedAt_ = 0;
};

}  // namespace comet
