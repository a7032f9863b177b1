// The window: a bar on top; below it the start page, the shape view or the bake view.
#pragma once

#include "session/background_answer.h"
#include "session/background_run.h"
#include "session/document.h"
#include "session/recovery.h"
#include "timeline/playback.h"
#include "viewport/picture_run.h"
#include "window/effect_layout.h"

#include <QMainWindow>

class QAbstractButton;
class QLabel;
class QPushButton;
class QStackedWidget;
class QToolButton;

namespace comet {

class BakeView;
class CompareBar;
class FindControl;
class GuideView;
struct FoundAction;
class Inspector;
class PresetPanel;
class ShortcutsOverlay;
class StartPage;
class SweepView;
class Viewport;

class MainWindow : public QMainWindow {
  Q_OBJECT

 public:
  explicit MainWindow(FileReaderPtr files);
  ~MainWindow() override;

  enum Page { Start, Shape, Bake };
  void showPage(Page page);
  Page page() const;

  // Each shows a scene through its camera and plays it; if it cannot be read, says so in the bar and leaves
  // the present scene alone. A file is read behind the window.
  void openFile(const QString& path);
  void openDemo(const QString& name);
  void newScene();
  // Says that there is unsaved work to recover, where the start page is not seen, or that none can be kept.
  void tellOfRecovery();
  bool isPlaying() const { return playback_.isPlaying(); }

  Document& document() { return document_; }
  BackgroundRun& backgroundRun() { return run_; }
  PictureRun& pictureRun() { return pictures_; }
  Viewport& viewport() { return *viewport_; }

 protected:
  void closeEvent(QCloseEvent* event) override;
  // Enter presses the button that has the keyboard, since Space plays.
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  QWidget* makeBar();
  QWidget* makeShapeView();
  QWidget* makeViewportPanel();
  QWidget* makeStage();
  // The inspector, or presets to choose from in its place.
  QWidget* makeSide();
  QWidget* makeOverlayButton();
  // Shows a control of the selected item in the inspector, whatever is in its place.
  void reveal(const std::string& param);
  // Folds a part of the layout and opens it again.
  QToolButton* makeFoldButton(EffectLayout::Part part, const QString& mark, const QString& tip);
  void refreshFolds();
  void addShortcuts();
  // What can be done and read beside the controls.
  std::vector<FoundAction> actions();
  void refreshBar();
  void refreshNumbers();
  void chooseAndOpen();
  bool save();
  bool saveAs();
  bool saveTo(const QString& path);
  bool mayDiscardChanges();
  // From its first frame, through its camera, playing: the same wherever a scene comes from.
  void present(const Scene& scene, const QString& path, const QString& name);
  // A scene that was read behind the window.
  struct Opened {
    QString path;
    Scene before;  // that was shown when it was asked for
    Scene scene;
    QString problem;  // why there is none
    enum class As { Scene, Reload, Sheet } as = As::Scene;
  };
  void read(const QString& path, Opened::As as);
  // Opens a scene that plays a flipbook, given its description.
  void useSheet(const QString& description);
  void take(const Opened& opened);
  void recover(const RecoveryCopy& copy);
  // Asks whether to recover unsaved work on a file that is to be opened; true if the file is not to be
  // opened.
  bool offersRecovery(const QString& path);
  // The index of the answer that was chosen, -1 if the question was put aside.
  int ask(const QString& title, const QString& text, const QStringList& answers);
  void complain(const QString& problem);
  void openGuide();
  void showTrouble();
  void useDroppedFile(const QString& path, const QPoint& place);

  Document document_;
  BackgroundRun run_;
  PictureRun pictures_;
  Playback playback_;
  Recovery recovery_;
  QStackedWidget* pages_;
  StartPage* start_;
  BakeView* bakeView_;
  EffectLayout* layout_ = nullptr;
  Inspector* inspector_ = nullptr;
  PresetPanel* presets_ = nullptr;
  QStackedWidget* side_ = nullptr;  // shows one of those two
  Viewport* viewport_ = nullptr;
  SweepView* sweep_ = nullptr;
  CompareBar* compare_ = nullptr;
  FindControl* find_ = nullptr;
  GuideView* guide_ = nullptr;
  ShortcutsOverlay* shortcuts_ = nullptr;
  QList<QAbstractButton*> tabs_;
  bool tellsOfRecovery_ = false;  // once what is being read is shown
  QString reading_;               // the scene file that is being read; empty for none
  QString complaint_;             // about what was asked for last; empty if it went well
  QLabel* name_ = nullptr;
  QLabel* numbers_ = nullptr;
  QLabel* problem_ = nullptr;
  std::vector<std::pair<EffectLayout::Part, QToolButton*>> folds_;
  QToolButton* undo_ = nullptr;
  QToolButton* redo_ = nullptr;
  BackgroundAnswer<Opened> opening_;
};

}  // namespace comet
