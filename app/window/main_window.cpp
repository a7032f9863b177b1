#include "window/main_window.h"

#include "bake/bake_variants.h"
#include "bake/bake_view.h"
#include "base/error.h"
#include "catalog.h"
#include "controls/file_field.h"
#include "grid/grid_panel.h"
#include "grid/mark_strip.h"
#include "inspector/inspector.h"
#include "life_chart/life_chart.h"
#include "presets/preset_panel.h"
#include "render/view_shape.h"
#include "scene_files.h"
#include "sheet_scene.h"
#include "simulation/gas/gas_edits.h"
#include "start/start_page.h"
#include "theme/theme.h"
#include "timeline/timeline.h"
#include "timeline/transport.h"
#include "viewport/compare_bar.h"
#include "viewport/overlay_menu.h"
#include "viewport/sweep_view.h"
#include "viewport/viewport.h"
#include "window/file_notice.h"
#include "window/find_control.h"
#include "window/guide_topic.h"
#include "window/guide_view.h"
#include "window/shortcuts.h"

#include <QAbstractButton>
#include <QApplication>
#include <QCloseEvent>
#include <QComboBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QMessageBox>
#include <QPushButton>
#include <QShortcut>
#include <QStackedWidget>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <vector>

namespace comet {
namespace {

constexpr int kNameWidth = 150;  // of the scene's name in the bar

QToolButton* barButton(const QString& mark, const QString& name, const QString& tip) {
  auto* button = new QToolButton;
  button->setIcon(theme::mark(mark));
  button->setObjectName(name);
  button->setToolTip(tip);
  return button;
}

QString fileFilter() { return QObject::tr("Scenes (*.comet)"); }

}  // namespace

MainWindow::MainWindow(FileReaderPtr files)
    : document_(std::move(files)),
      run_(document_),
      pictures_(run_),
      playback_(document_, run_),
      recovery_(document_),
      pages_(new QStackedWidget),
      start_(new StartPage),
      bakeView_(new BakeView(document_, run_.cache())),
      opening_(this, [this](const Opened& opened) { take(opened); }) {
  setObjectName("window");
  setWindowTitle("Tawny Comet");
  setWindowIcon(QIcon(":/tawny-comet.svg"));
  resize(1280, 800);
  auto* content = new QWidget;
  auto* layout = new QVBoxLayout(content);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(2);
  layout->addWidget(makeBar());
  pages_->addWidget(start_);
  pages_->addWidget(makeShapeView());
  bakeView_->setObjectName("bake_view");
  pages_->addWidget(bakeView_);
  layout->addWidget(pages_, 1);
  setCentralWidget(content);
  shortcuts_ = new ShortcutsOverlay(content);
  auto* notice = new FileNotice(document_, content);
  connect(notice, &FileNotice::reload, this, [this] { read(document_.path(), Opened::As::Reload); });
  addShortcuts();
  qApp->installEventFilter(this);

  connect(bakeView_, &BakeView::useWanted, this, &MainWindow::useSheet);
  connect(bakeView_, &BakeView::failedUnseen, this, &MainWindow::complain);
  connect(start_, &StartPage::newScene, this, &MainWindow::newScene);
  connect(start_, &StartPage::openDemo, this, &MainWindow::openDemo);
  connect(start_, &StartPage::openFile, this, &MainWindow::openFile);
  connect(start_, &StartPage::chooseFile, this, &MainWindow::chooseAndOpen);
  connect(start_, &StartPage::recoverCopy, this, &MainWindow::recover);
  connect(&document_, &Document::stateChanged, this, &MainWindow::refreshBar);
  connect(&document_, &Document::frameChanged, this, [this] {
    // A frame that is not there and not on its way is asked for.
    if (!run_.isSimulated(document_.frame()) && !playback_.isPlaying()) run_.follow();
    refreshNumbers();
  });
  connect(&run_, &BackgroundRun::changed, this, &MainWindow::refreshNumbers);
  connect(viewport_, &Viewport::shown, this, &MainWindow::refreshNumbers);
  connect(viewport_, &Viewport::shown, &playback_,
          [this] { playback_.pictureShown(viewport_->shownFrame()); });
  connect(viewport_, &Viewport::dropped, this, &MainWindow::useDroppedFile);
  connect(&document_, &Document::sceneChanged, this, &MainWindow::refreshNumbers);
  connect(&playback_, &Playback::stateChanged, viewport_, &Viewport::setPlaying);
  connect(find_, &FindControl::found, this, [this](ItemId item, const QString& param) {
    const Scene::ItemPtr target = document_.scene().find(item);
    const bool isBake = target && target->kind->family() == ItemFamily::Bake;
    showPage(isBake ? Bake : Shape);
    document_.select(item);
    if (isBake)
      bakeView_->reveal(param.toStdString());
    else
      reveal(param.toStdString());
  });
  refreshBar();
  showPage(Start);
}

// The panels refer to the document, so they go before it does.
MainWindow::~MainWindow() { delete takeCentralWidget(); }

QWidget* MainWindow::makeBar() {
  auto* bar = new QWidget;
  bar->setProperty("panel", true);
  auto* row = new QHBoxLayout(bar);
  row->setContentsMargins(10, 5, 10, 5);
  row->setSpacing(5);
  name_ = new QLabel;
  name_->setObjectName("scene_name");
  name_->setProperty("title", true);
  // Room for the mark of unsaved changes is kept, or all that follows would move when it appears.
  name_->setFixedWidth(kNameWidth);
  row->addWidget(name_);
  undo_ = barButton("undo", "undo", {});
  redo_ = barButton("redo", "redo", {});
  connect(undo_, &QToolButton::clicked, &document_, &Document::undo);
  connect(redo_, &QToolButton::clicked, &document_, &Document::redo);
  row->addWidget(undo_);
  row->addWidget(redo_);
  row->addSpacing(10);
  const QStringList names{tr("Start"), tr("Effect"), tr("Bake")};
  for (int page = Start; page <= Bake; ++page) {
    auto* tab = new QPushButton(names[page]);
    tab->setObjectName(QString("page.%1").arg(page));
    tab->setCheckable(true);
    tab->setAutoExclusive(true);
    connect(tab, &QPushButton::clicked, this, [this, page] { showPage(static_cast<Page>(page)); });
    tabs_ << tab;
    row->addWidget(tab);
  }
  row->addSpacing(10);
  find_ = new FindControl(document_);
  find_->setFixedWidth(210);
  guide_ = new GuideView(this);
  find_->setActions(actions());
  row->addWidget(find_);
  problem_ = new QLabel;
  problem_->setObjectName("problem");
  problem_->setProperty("trouble", true);
  // What is said must not make the window wider.
  problem_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  row->addWidget(problem_, 1);
  numbers_ = new QLabel;
  numbers_->setObjectName("live_numbers");
  numbers_->setProperty("quiet", true);
  row->addWidget(numbers_);
  row->addSpacing(10);
  auto* open = barButton("open", "open", tr("Open a scene (Ctrl+O)"));
  connect(open, &QToolButton::clicked, this, &MainWindow::chooseAndOpen);
  row->addWidget(open);
  auto* save = barButton("save", "save", tr("Save (Ctrl+S)"));
  connect(save, &QToolButton::clicked, this, &MainWindow::save);
  row->addWidget(save);
  auto* help = new QToolButton;
  help->setText("?");
  help->setToolTip(tr("Keys and gestures (?)"));
  connect(help, &QToolButton::clicked, this, [this] { shortcuts_->toggle(); });
  row->addWidget(help);
  return bar;
}

QWidget* MainWindow::makeViewportPanel() {
  auto* panel = new QWidget;
  auto* layout = new QVBoxLayout(panel);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(0);
  auto* options = new QWidget;
  options->setProperty("panel", true);
  auto* row = new QHBoxLayout(options);
  row->setContentsMargins(6, 4, 6, 4);
  row->setSpacing(4);
  row->addWidget(makeFoldButton(EffectLayout::Part::LeftColumn, "fold_left",
                                tr("Fold the influence grid and the inspector to marks, or open them (F2)")));
  viewport_ = new Viewport(document_, run_, pictures_);
  viewport_->setObjectName("viewport");
  auto* view = new QComboBox;
  view->setObjectName("view");
  view->addItems({tr("Camera"), tr("Free"), tr("Front"), tr("Side"), tr("Top")});
  view->setToolTip(tr("The view of the viewport: the scene's camera or a view of your own"));
  connect(view, &QComboBox::activated, this,
          [this](int kind) { viewport_->look(static_cast<ViewKind>(kind)); });
  row->addWidget(view);
  auto* take = new QPushButton(tr("Move camera to this view"));
  take->setObjectName("take_view");
  take->setToolTip(tr("Moves the scene's camera to the current view"));
  connect(take, &QPushButton::clicked, viewport_, &Viewport::takeOverView);
  row->addWidget(take);
  auto* fit = new QPushButton(tr("Fit"));
  fit->setObjectName("fit");
  fit->setToolTip(tr("Fills the view with the effect (W), or with what is selected (Shift+W)"));
  connect(fit, &QPushButton::clicked, this, [this] { viewport_->fit(Viewport::FitTo::Effect); });
  row->addWidget(fit);
  const auto showView = [this, view, take] {
    view->setCurrentIndex(static_cast<int>(viewport_->view()));
    take->setEnabled(viewport_->view() != ViewKind::Camera);
  };
  connect(viewport_, &Viewport::viewChanged, this, showView);
  showView();
  auto* grid = new QPushButton(tr("Grid"));
  grid->setCheckable(true);
  grid->setChecked(true);
  connect(grid, &QPushButton::toggled, viewport_, &Viewport::setShowsGrid);
  row->addWidget(grid);
  row->addWidget(makeOverlayButton());
  row->addStretch(1);
  compare_ = new CompareBar(document_, *viewport_);
  connect(compare_, &CompareBar::failed, this, &MainWindow::complain);
  row->addWidget(compare_);
  layout->addWidget(options);
  layout->addWidget(makeStage(), 1);
  // What they change is not seen then.
  connect(sweep_, &SweepView::shownChanged, options, &QWidget::setDisabled);
  auto* transport = new Transport(document_, run_, pictures_, playback_);
  transport->layout()->addWidget(
      makeFoldButton(EffectLayout::Part::LowerPanels, "fold_lower",
                     tr("Fold the timeline and the life chart to the ruler, or open them (F3)")));
  layout->addWidget(transport);
  return panel;
}

// The viewport, or values that are tried side by side in its place.
QWidget* MainWindow::makeStage() {
  sweep_ = new SweepView(document_, run_);
  auto* stage = new QStackedWidget;
  stage->addWidget(viewport_);
  stage->addWidget(sweep_);
  connect(sweep_, &SweepView::shownChanged, stage, [this, stage](bool shown) {
    stage->setCurrentWidget(shown ? static_cast<QWidget*>(sweep_) : viewport_);
  });
  connect(sweep_, &SweepView::bakeWanted, this, [this](const SweepAxis& axis) {
    document_.edit(withVariedBake(document_.scene(), axis), tr("bake variants"));
    showPage(Bake);
    bakeView_->reveal("varied");
  });
  return stage;
}

QWidget* MainWindow::makeOverlayButton() {
  auto* button = new QPushButton(tr("Overlays"));
  button->setObjectName("overlay");
  button->setToolTip(tr("Draws velocities, attributes, influences or gas over the effect"));
  button->setMenu(makeOverlayMenu(*viewport_, button));
  return button;
}

QWidget* MainWindow::makeShapeView() {
  auto* view = makeViewportPanel();
  auto* side = makeSide();
  auto* gridPanel = new GridPanel(document_, run_);
  connect(gridPanel, &GridPanel::presetsWanted, this, [this] {
    layout_->open(EffectLayout::Part::LeftColumn);
    side_->setCurrentWidget(side_->currentWidget() == presets_ ? static_cast<QWidget*>(inspector_)
                                                               : presets_);
  });
  connect(gridPanel, &GridPanel::presetWanted, presets_, &PresetPanel::keep);
  auto* timeline = new Timeline(document_, run_, pictures_, playback_);
  timeline->setObjectName("timeline");
  auto* lifeChart = new LifeChart(document_, run_);
  lifeChart->setObjectName("life_chart");
  layout_ = new EffectLayout({gridPanel, side, new MarkStrip(document_), view, timeline, lifeChart});
  connect(layout_, &EffectLayout::foldedChanged, this, &MainWindow::refreshFolds);
  refreshFolds();
  return layout_;
}

QWidget* MainWindow::makeSide() {
  inspector_ = new Inspector(document_, &run_);
  inspector_->setObjectName("inspector");
  connect(inspector_, &Inspector::valuesWanted, this,
          [this](ItemId item, const QString& param) { sweep_->begin(item, param, viewport_->viewCamera()); });
  connect(inspector_, &Inspector::shapeToViewWanted, this, [this](ItemId emitter, bool fills) {
    const Camera camera = viewport_->viewCamera().camera(document_.scene(), document_.frame());
    const double aspect = static_cast<double>(viewport_->width()) / std::max(1, viewport_->height());
    const Scene& scene = document_.scene();
    document_.edit(fills ? withShapeFilling(scene, emitter, camera, aspect, document_.frame())
                         : withShapeFacing(scene, emitter, camera),
                   fills ? tr("fill the view") : tr("face the view"));
  });
  presets_ = new PresetPanel(document_);
  connect(presets_, &PresetPanel::failed, this, &MainWindow::complain);
  connect(viewport_, &Viewport::presetDropped, presets_, &PresetPanel::addAt);
  side_ = new QStackedWidget;
  side_->addWidget(inspector_);
  side_->addWidget(presets_);
  const auto showInspector = [this] { side_->setCurrentWidget(inspector_); };
  connect(presets_, &PresetPanel::closed, this, showInspector);
  connect(&document_, &Document::replaced, this, showInspector);
  // What is selected is to be seen, unless more presets may be wanted.
  connect(&document_, &Document::selectionChanged, this, [this, showInspector] {
    if (!presets_->isAdding()) showInspector();
  });
  return side_;
}

void MainWindow::reveal(const std::string& param) {
  layout_->open(EffectLayout::Part::LeftColumn);
  side_->setCurrentWidget(inspector_);
  inspector_->reveal(param);
}

QToolButton* MainWindow::makeFoldButton(EffectLayout::Part part, const QString& mark, const QString& tip) {
  QToolButton* button = barButton(mark, mark, tip);
  button->setCheckable(true);
  connect(button, &QToolButton::toggled, this, [this, part](bool on) { layout_->setFolded(part, on); });
  folds_.push_back({part, button});
  return button;
}

void MainWindow::refreshFolds() {
  for (const auto& [part, button] : folds_) button->setChecked(layout_->isFolded(part));
}

void MainWindow::addShortcuts() {
  const auto add = [this](const QKeySequence& keys, auto action) {
    connect(new QShortcut(keys, this), &QShortcut::activated, this, action);
  };
  add(Qt::Key_Space, [this] { playback_.toggle(); });
  add(Qt::Key_Left, [this] { playback_.step(-1); });
  add(Qt::Key_Right, [this] { playback_.step(1); });
  add(Qt::Key_Home, [this] { playback_.rewind(); });
  add(Qt::Key_End, [this] { document_.setFrame(playedRange(document_.scene()).last); });
  add(QKeySequence::Undo, [this] { document_.undo(); });
  add(Qt::CTRL | Qt::SHIFT | Qt::Key_Z, [this] { document_.redo(); });
  add(QKeySequence::Save, [this] { save(); });
  add(Qt::CTRL | Qt::SHIFT | Qt::Key_S, [this] { saveAs(); });
  add(QKeySequence::Open, [this] { chooseAndOpen(); });
  add(QKeySequence::New, [this] { newScene(); });
  add(QKeySequence::Find, [this] { find_->begin(); });
  // Where items are seen and not where values are typed. What else is chosen there takes the key first.
  for (const char* panel : {"influence_grid", "viewport", "timeline"}) {
    auto* shortcut = new QShortcut(Qt::Key_Delete, findChild<QWidget*>(panel));
    shortcut->setContext(Qt::WidgetShortcut);
    connect(shortcut, &QShortcut::activated, this, [this] { document_.remove(document_.selected()); });
  }
  add(Qt::Key_W, [this] { viewport_->fit(Viewport::FitTo::Effect); });
  add(Qt::SHIFT | Qt::Key_W, [this] { viewport_->fit(Viewport::FitTo::Selected); });
  const auto onEffect = [this](auto action) {
    return [this, action] {
      if (page() == Shape) action(*layout_);
    };
  };
  add(Qt::Key_C, onEffect([this](EffectLayout&) { compare_->toggle(); }));
  add(Qt::SHIFT | Qt::Key_C, onEffect([this](EffectLayout&) { compare_->keep(); }));
  add(Qt::Key_F1, [this] { openGuide(); });
  add(Qt::Key_F5, [this] { showPage(Shape); });
  add(Qt::Key_F6, [this] { showPage(Bake); });
  add(Qt::Key_F2,
      onEffect([](EffectLayout& layout) { layout.toggleFolded(EffectLayout::Part::LeftColumn); }));
  add(Qt::Key_F3,
      onEffect([](EffectLayout& layout) { layout.toggleFolded(EffectLayout::Part::LowerPanels); }));
  add(Qt::Key_F11, onEffect([](EffectLayout& layout) { layout.toggleFullPanel(); }));
  add(Qt::Key_Question, [this] { shortcuts_->toggle(); });
}

void MainWindow::showPage(Page page) {
  if (pages_->currentIndex() == Bake && page != Bake) bakeView_->leave();
  if (page == Start) start_->refresh();
  if (page != Shape) playback_.pause();
  const bool entersBake = page == Bake && pages_->currentIndex() != Bake;
  pages_->setCurrentIndex(page);
  tabs_[page]->setChecked(true);
  numbers_->setVisible(page == Shape);
  if (entersBake) bakeView_->enter();
}

MainWindow::Page MainWindow::page() const { return static_cast<Page>(pages_->currentIndex()); }

void MainWindow::refreshBar() {
  const QString mark = document_.hasUnsavedChanges() ? QStringLiteral(" ●") : QString();
  const QFontMetrics metrics = name_->fontMetrics();
  const int room = kNameWidth - metrics.horizontalAdvance(" ●");
  name_->setText(metrics.elidedText(document_.displayName(), Qt::ElideMiddle, room) + mark);
  const QString where = document_.path().isEmpty() ? document_.displayName() : document_.path();
  name_->setToolTip(document_.hasUnsavedChanges() ? tr("%1\nHas changes that are not saved").arg(where)
                                                  : where);
  undo_->setEnabled(document_.canUndo());
  redo_->setEnabled(document_.canRedo());
  undo_->setToolTip(document_.canUndo() ? tr("Undo: %1 (Ctrl+Z)").arg(document_.undoText())
                                        : tr("Nothing to undo"));
  redo_->setToolTip(document_.canRedo() ? tr("Redo: %1 (Ctrl+Shift+Z)").arg(document_.redoText())
                                        : tr("Nothing to redo"));
}

void MainWindow::refreshNumbers() {
  showTrouble();
  // Of the frame whose picture is seen.
  const SceneFramePtr frame = run_.frame(viewport_->shownFrame());
  if (!reading_.isEmpty()) return numbers_->setText(tr("Reading %1 …").arg(QFileInfo(reading_).fileName()));
  if (!frame) return;
  const auto drawn = viewport_->drawMilliseconds();
  const QString text = tr("alive %L1  ·  sim %2 ms  ·  %3  ·  cache %4 of %5 MB")
                           .arg(frame->report->stats.living)
                           .arg(frame->report->stats.allMilliseconds(), 0, 'f', 1)
                           .arg(drawn ? tr("draw %1 ms").arg(*drawn, 0, 'f', 1) : tr("drawn ahead"))
                           .arg(static_cast<double>(run_.bytes()) / (1 << 20), 0, 'f', 0)
                           .arg(run_.budget() >> 20);
  numbers_->setText(text);
  numbers_->setToolTip(
      tr("Living particles, the time of simulating and drawing a frame, and the frame cache. At most %L1 "
         "particles live at once and the frame cache holds %2 MB; beside it pictures take %3 of %4 MB. All "
         "three are set in Scene.")
          .arg(document_.scene().settings().integer("max_particles", 0))
          .arg(run_.budget() >> 20)
          .arg(pictures_.cache().bytes() >> 20)
          .arg(pictures_.cache().budget() >> 20));
}

// What the user did last and failed comes first, then what is wrong with the scene itself.
void MainWindow::showTrouble() {
  const SceneFramePtr frame = run_.frame(document_.frame());
  QString trouble = complaint_;
  if (const auto missing = missingFiles(document_.scene()); trouble.isEmpty() && !missing.empty())
    trouble = QString::fromStdString(missing.front().message) +
              (missing.size() > 1 ? tr(" (and %1 more)").arg(missing.size() - 1) : QString());
  if (trouble.isEmpty() && frame && frame->report->stats.refused > 0)
    trouble = tr("%L1 births refused: a particle limit is reached").arg(frame->report->stats.refused);
  if (trouble.isEmpty() && frame && frame->report->stats.losses.lost > 0)
    trouble = tr("%L1 particles were lost because they became infinitely fast. Lower the influences on them, "
                 "or raise Substeps in Scene")
                  .arg(frame->report->stats.losses.lost);
  problem_->setText(
      problem_->fontMetrics().elidedText(trouble, Qt::ElideRight, std::max(120, problem_->width())));
  problem_->setToolTip(trouble);
}

// Of what the pointer is on, else of what has the keyboard.
void MainWindow::openGuide() {
  for (const QWidget* widget : {QApplication::widgetAt(QCursor::pos()), focusWidget()})
    if (const GuideTopic topic = guideTopicOf(widget, document_); !topic.file.isEmpty())
      return guide_->open(topic.file, topic.words);
  guide_->open("README.md");
}

void MainWindow::complain(const QString& problem) {
  complaint_ = problem;
  showTrouble();
}

void MainWindow::useDroppedFile(const QString& path, const QPoint& place) {
  const Scene::ItemPtr emitter = document_.scene().find(document_.selectedEmitter());
  // One drop is one step: the file joins the choice, or the influence, that was made for it.
  const auto show = [this, path](ItemId item, const char* param, bool joins) {
    document_.setFile(item, param, path, joins);
    document_.select(item);
    reveal(param);
  };
  const auto use = [this, show](ItemId item, const char* param, const char* choiceParam, const char* option) {
    const Scene before = document_.scene();
    if (choiceParam) document_.setBase(item, choiceParam, std::string(option));
    show(item, param, document_.scene() != before);
  };
  QMenu menu(this);
  menu.setObjectName("dropped");
  const auto kind = fileKindOf(path);
  const bool isMesh = kind == FileKind::Mesh, isPicture = kind == FileKind::Picture;
  const auto offerInfluence = [&](const QString& label, const char* kindId, const char* param,
                                  const char* choiceParam, const char* option) {
    menu.addAction(label, this, [=, this] {
      Item influence = newItem(*catalog().find(kindId), document_.scene().freeName(kindId));
      influence.values[influence.kind->indexOf(choiceParam)].base = std::string(option);
      const Scene next = document_.scene().withAdded(std::move(influence));
      document_.edit(next, tr("add %1").arg(QString::fromUtf8(kindId)));
      show(next.items().back()->id, param, true);
    });
  };
  if (kind == FileKind::Volume) offerInfluence(tr("As a vector field"), "field", "volume", "source", "file");
  if (emitter && isMesh) {
    menu.addAction(tr("Emit from it"), this, [use, emitter] { use(emitter->id, "mesh", "shape", "mesh"); });
    menu.addAction(tr("Bounds"), this, [use, emitter] { use(emitter->id, "bounds_mesh", "bounds", "mesh"); });
  }
  if (isMesh) offerInfluence(tr("As a deflector"), "deflector", "mesh", "shape", "mesh");
  if (emitter && isPicture) {
    menu.addAction(tr("As sprite"), this,
                   [use, emitter] { use(emitter->id, "picture", "sprite", "picture"); });
    menu.addAction(tr("As flipbook"), this,
                   [use, emitter] { use(emitter->id, "picture", "sprite", "flipbook"); });
    menu.addAction(tr("Emit where it is bright"), this,
                   [use, emitter] { use(emitter->id, "birth_picture", "shape", "picture"); });
  }
  if (isPicture)
    menu.addAction(tr("As flat gas"), this, [this, show] {
      const Scene next = withGasOfPicture(document_.scene());
      document_.edit(next, tr("add gas"));
      show(next.items().back()->id, "birth_picture", true);
    });
  if (isPicture) offerInfluence(tr("As a cut-out deflector"), "deflector", "picture", "shape", "cut_out");
  if (isPicture)
    menu.addAction(tr("As backdrop"), this,
                   [this, use] { use(document_.scene().camera().id, "backdrop", nullptr, nullptr); });
  if (!menu.isEmpty()) menu.exec(place);
}

bool MainWindow::mayDiscardChanges() {
  if (!document_.hasUnsavedChanges()) return true;
  const int answer =
      ask(tr("Unsaved changes"), tr("%1 has changes that are not saved.").arg(document_.displayName()),
          {tr("Save"), tr("Discard")});
  return answer == 1 || (answer == 0 && save());
}

void MainWindow::present(const Scene& scene, const QString& path, const QString& name) {
  playback_.pause();
  complaint_.clear();
  reading_.clear();
  document_.replace(scene, path);
  document_.setDisplayName(name);
  refreshBar();
  viewport_->look(ViewKind::Camera);
  showPage(Shape);
  playback_.play();
}

void MainWindow::openFile(const QString& path) {
  if (mayDiscardChanges() && !offersRecovery(path)) read(path, Opened::As::Scene);
}

void MainWindow::useSheet(const QString& description) {
  if (mayDiscardChanges()) read(description, Opened::As::Sheet);
}

void MainWindow::read(const QString& path, Opened::As as) {
  reading_ = path;
  complain({});
  refreshNumbers();
  Opened opened{path, document_.scene(), {}, {}, as};
  opening_.ask([opened, files = document_.files()](const Progress& progress) mutable {
    try {
      const std::filesystem::path file = opened.path.toStdString();
      opened.scene = opened.as == Opened::As::Sheet ? sceneOfSheet(file, files, progress)
                                                    : openScene(file, files, progress);
    } catch (const Error& error) {
      opened.problem = QString::fromUtf8(error.what());
    } catch (const std::bad_alloc&) {
      opened.problem = tr("%1 takes more memory than there is").arg(opened.path);
    }
    return opened;
  });
}

void MainWindow::take(const Opened& opened) {
  // Another scene may have been chosen meanwhile, or this one edited.
  if (opened.path != reading_) return;
  reading_.clear();
  refreshNumbers();
  if (!opened.problem.isEmpty()) return complain(opened.problem);
  if (opened.as == Opened::As::Reload) return document_.takeReloaded(opened.scene);
  if (document_.scene() != opened.before && !mayDiscardChanges()) return;
  if (opened.as == Opened::As::Sheet)
    return present(opened.scene, {}, tr("%1 in use").arg(QFileInfo(opened.path).completeBaseName()));
  present(opened.scene, opened.path, {});
  addRecentFile(opened.path);
  if (tellsOfRecovery_) tellOfRecovery();
}

void MainWindow::openDemo(const QString& name) {
  if (!mayDiscardChanges()) return;
  try {
    QString title = name;
    present(::comet::openDemo(name.toStdString()), {}, title.replace('_', ' '));
  } catch (const Error& error) {
    complain(QString::fromUtf8(error.what()));
  }
}

void MainWindow::newScene() {
  if (mayDiscardChanges()) present(startingScene(), {}, {});
}

void MainWindow::recover(const RecoveryCopy& copy) {
  if (!mayDiscardChanges()) return;
  try {
    present(Recovery::read(copy, document_.files()), copy.path, copy.path.isEmpty() ? copy.name : QString());
    document_.setUnsaved();
    recovery_.takeOver(copy.file);
  } catch (const Error& error) {
    complain(QString::fromUtf8(error.what()));
  }
}

int MainWindow::ask(const QString& title, const QString& text, const QStringList& answers) {
  QMessageBox box(QMessageBox::NoIcon, title, text, QMessageBox::NoButton, this);
  std::vector<QAbstractButton*> buttons;
  for (const QString& answer : answers) buttons.push_back(box.addButton(answer, QMessageBox::AcceptRole));
  auto* cancel = box.addButton(tr("Cancel"), QMessageBox::RejectRole);
  // Those of the platform are drawn for light windows.
  for (QAbstractButton* button : box.buttons()) button->setIcon({});
  box.setDefaultButton(qobject_cast<QPushButton*>(buttons.front()));
  box.setEscapeButton(cancel);
  box.exec();
  const auto chosen = std::find(buttons.begin(), buttons.end(), box.clickedButton());
  return chosen == buttons.end() ? -1 : static_cast<int>(chosen - buttons.begin());
}

bool MainWindow::offersRecovery(const QString& path) {
  for (const RecoveryCopy& copy : Recovery::abandonedCopies()) {
    if (copy.path.isEmpty() || copy.path != QFileInfo(path).absoluteFilePath()) continue;
    const int answer = ask(tr("Unsaved work"),
                           tr("There is unsaved work on %1, of %2, from a session that ended unexpectedly.")
                               .arg(copy.name, copy.time.toString("dd MMM hh:mm")),
                           {tr("Recover it"), tr("Open the file")});
    if (answer == 0) recover(copy);
    return answer != 1;
  }
  return false;
}

void MainWindow::tellOfRecovery() {
  tellsOfRecovery_ = !reading_.isEmpty();
  if (page() != Start && !Recovery::abandonedCopies().empty())
    complain(tr("Unsaved work from a session that ended unexpectedly can be recovered on the Start page."));
  if (const QString folder = Recovery::unwritableFolder(); !folder.isEmpty())
    complain(
        tr("Unsaved work is not kept, nor are settings: %1 cannot be written to. Make it writable, or save "
           "often.")
            .arg(folder));
}

void MainWindow::chooseAndOpen() {
  const QString path = QFileDialog::getOpenFileName(this, tr("Open a scene"), {}, fileFilter());
  if (!path.isEmpty()) openFile(path);
}

bool MainWindow::save() { return document_.path().isEmpty() ? saveAs() : saveTo(document_.path()); }

bool MainWindow::saveAs() {
  QFileDialog dialog(this, tr("Save the scene"), {}, fileFilter());
  dialog.setAcceptMode(QFileDialog::AcceptSave);
  dialog.setDefaultSuffix("comet");
  dialog.selectFile(document_.path().isEmpty() ? document_.displayName() + ".comet" : document_.path());
  return dialog.exec() == QDialog::Accepted && saveTo(dialog.selectedFiles().front());
}

bool MainWindow::saveTo(const QString& path) {
  if (path == document_.path() && document_.isChangedOnDisk() && QFileInfo::exists(path)) {
    const int answer = ask(tr("Changed file"),
                           tr("%1 has been changed by another program since it was read or saved here.")
                               .arg(QFileInfo(path).fileName()),
                           {tr("Overwrite"), tr("Save under another name…")});
    if (answer == 1) return saveAs();
    if (answer != 0) return false;
  }
  try {
    document_.save(path);
    addRecentFile(path);
    complaint_.clear();
    showTrouble();
    return true;
  } catch (const Error& error) {
    complain(QString::fromUtf8(error.what()));
    return false;
  }
}

bool MainWindow::eventFilter(QObject* object, QEvent* event) {
  auto* button = qobject_cast<QAbstractButton*>(object);
  if (!button || event->type() != QEvent::KeyPress) return QMainWindow::eventFilter(object, event);
  const int key = static_cast<QKeyEvent*>(event)->key();
  if (key != Qt::Key_Return && key != Qt::Key_Enter) return QMainWindow::eventFilter(object, event);
  button->click();
  return true;
}

void MainWindow::closeEvent(QCloseEvent* event) {
  if (mayDiscardChanges())
    event->accept();
  else
    event->ignore();
}

}  // namespace comet
