// The bake view: settings of a bake, what came of it, what is wrong with it, and the files.
#pragma once

#include "bake/bake_run.h"
#include "session/document.h"

#include <QWidget>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QProgressBar;
class QPushButton;
class QVBoxLayout;

namespace comet {

class BakeStage;
class CheckList;
class Inspector;

class BakeView : public QWidget {
  Q_OBJECT

 public:
  // `cache` holds the document's frames.
  BakeView(Document& document, std::shared_ptr<FrameCache> cache, QWidget* parent = nullptr);

  // Called when the view is shown: shows the bake's settings, or what was selected before when it is left.
  void enter();
  // Scrolls to a parameter of the bake that is shown.
  void reveal(const std::string& param);
  void leave();

 Q_SIGNALS:
  // A flipbook was exported to be used in a new scene.
  void useWanted(const QString& description);
  // An export that began by itself has failed while another view was shown.
  void failedUnseen(const QString& problem);

 private:
  QWidget* makeSettings();
  void addRunRow(QVBoxLayout& layout);
  void addFolderRow(QVBoxLayout& layout);
  void addOnSave(QVBoxLayout& layout);
  QWidget* makeFindings(const std::shared_ptr<FrameCache>& cache);
  void refresh();
  void refreshEmitters(const Item& bake);
  void makeEmitterBoxes();
  Scene::ItemPtr bake() const;
  void addBake();
  void startBake();
  void fitView();
  void fix(const Remedy& remedy);
  void writeFiles(bool all);
  // Exports all once nothing else is at work.
  void exportWhenFree();
  // What was baked from a scene that is no longer open.
  void forget();
  void showSheet(const std::shared_ptr<const BakedSheet>& sheet);
  // What is asked of the run next begins.
  void begin();
  void setWorking(bool works);
  void say(const QString& text, bool isTrouble);
  void sayWhetherOutdated();

  Document& document_;
  BakeRun run_;
  std::shared_ptr<const BakedSheet> sheet_;
  ItemId selectedBefore_ = 0;
  bool bakesAfterFit_ = false, usesAfterWriting_ = false, exportsWhenFree_ = false;
  bool isOutdated_ = false;  // the scene has changed since the sheet was baked
  QComboBox* bakes_;
  Inspector* inspector_;
  QWidget* emitters_;
  std::vector<ItemId> shownEmitters_;
  QLabel* plan_;
  QPushButton* start_;
  QPushButton* fit_;
  QPushButton* cancel_;
  QProgressBar* progress_;
  QLineEdit* folder_;
  QPushButton* write_;
  QPushButton* writeAll_;
  QPushButton* use_;
  QCheckBox* onSave_;
  QLabel* message_;
  BakeStage* stage_;
  CheckList* checks_;
  QLabel* facts_;
  qint64 startedAt_ = 0;
};

}  // namespace comet
