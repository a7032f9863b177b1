#include "bake/bake_view.h"

#include "bake/bake_kind.h"
#include "bake/bake_stage.h"
#include "bake/check_list.h"
#include "bake/data_panel.h"
#include "base/error.h"
#include "inspector/inspector.h"
#include "simulation/loop.h"
#include "theme/theme.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDateTime>
#include <QDir>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QProgressBar>
#include <QPushButton>
#include <QSettings>
#include <QStandardPaths>
#include <QStyle>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

namespace comet {
namespace {

constexpr int kSettingsWidth = 370;
constexpr int kFindingsWidth = 250;
const char* const kFolderKey = "bake/folder";

QString defaultFolder() {
  const QString home = QStandardPaths::writableLocation(QStandardPaths::PicturesLocation);
  return QSettings().value(kFolderKey, QDir(home).filePath("flipbooks")).toString();
}

QString megabytes(double bytes) { return QString::number(bytes / (1 << 20), 'f', 1); }

QString planText(const FlipbookLayout& layout, double density) {
  const VideoMemory memory = videoMemory(layout);
  return BakeView::tr(
             "%1 frames in %2 cells%9, sheet %3 × %4 px. Video memory with mip levels: %5 MB, "
             "block-compressed %6 MB. %8 px across a unit. Each cell lasts %7 ms in the game.")
      .arg(layout.isMeasured() ? BakeView::tr("up to %1").arg(layout.cellsEach())
                               : QString::number(layout.cellsEach()))
      .arg(layout.room())
      .arg(layout.width())
      .arg(layout.height())
      .arg(megabytes(memory.plain), megabytes(memory.compressed))
      .arg(1000 / layout.framesPerSecond, 0, 'f', 0)
      .arg(density, 0, 'g', 3)
      .arg(layout.variants.size() > 1 ? BakeView::tr(" for each of %1 variants").arg(layout.variants.size())
                                      : QString());
}

}  // namespace

BakeView::BakeView(Document& document, std::shared_ptr<FrameCache> cache, QWidget* parent)
    : QWidget(parent), document_(document), run_(cache), stage_(new BakeStage), checks_(new CheckList) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(4);
  row->addWidget(makeSettings());
  row->addWidget(stage_, 1);
  row->addWidget(makeFindings(cache));
  // While it is hidden others edit and select; enter() catches up.
  for (const auto signal : {&Document::sceneChanged, &Document::selectionChanged})
    connect(&document_, signal, this, [this] {
      if (isVisible()) refresh();
    });
  connect(&document_, &Document::replaced, this, &BakeView::forget);
  connect(&run_, &BakeRun::progressed, this, [this](int done, int total) {
    progress_->setRange(0, total);
    progress_->setValue(done);
    const double seconds = static_cast<double>(QDateTime::currentMSecsSinceEpoch() - startedAt_) / 1000;
    progress_->setFormat(done > 0 ? tr("%v of %m, %1 s left").arg(seconds / done * (total - done), 0, 'f', 1)
                                  : tr("%v of %m"));
  });
  connect(&run_, &BakeRun::finished, this, &BakeView::showSheet);
  connect(&run_, &BakeRun::fitted, this, [this](ItemId bake, const Camera& view, bool seesNothing) {
    setWorking(false);
    const bool bakes = std::exchange(bakesAfterFit_, false);
    if (seesNothing)
      return say(tr("Nothing is visible in these frames, so the view has nothing to fit."), true);
    if (!document_.scene().find(bake)) return;
    document_.edit(withFittedView(document_.scene(), bake, view), tr("fit view"));
    if (bakes) startBake();
  });
  connect(&run_, &BakeRun::written, this,
          [this](int files, const QString& first, qint64 bytes, const QString& description) {
            setWorking(false);
            QSettings().setValue(kFolderKey, folder_->text());
            say(tr("Exported %1 and %2 more, %3 KB.")
                    .arg(first)
                    .arg(files - 1)
                    .arg(static_cast<double>(bytes) / 1024, 0, 'f', 0),
                false);
            if (std::exchange(usesAfterWriting_, false)) Q_EMIT useWanted(description);
          });
  connect(&run_, &BakeRun::failed, this, [this](const QString& problem) {
    setWorking(false);
    bakesAfterFit_ = usesAfterWriting_ = false;
    say(problem, true);
    if (!isVisible()) Q_EMIT failedUnseen(problem);
  });
  connect(&run_, &BakeRun::cancelled, this, [this] {
    setWorking(false);
    bakesAfterFit_ = usesAfterWriting_ = exportsWhenFree_ = false;
    say(sheet_ ? tr("Cancelled. The previous sheet is still here.") : tr("Cancelled."), false);
  });
  refresh();
}

QWidget* BakeView::makeSettings() {
  auto* panel = new QWidget;
  panel->setProperty("panel", true);
  panel->setFixedWidth(kSettingsWidth);
  auto* layout = new QVBoxLayout(panel);
  layout->setContentsMargins(8, 8, 8, 8);
  auto* row = new QHBoxLayout;
  bakes_ = new QComboBox;
  bakes_->setObjectName("bakes");
  row->addWidget(bakes_, 1);
  auto* add = new QPushButton(theme::mark("add"), tr("Bake"));
  add->setObjectName("bake_add");
  add->setToolTip(tr("Another flipbook of the same scene"));
  row->addWidget(add);
  layout->addLayout(row);
  connect(bakes_, &QComboBox::activated, this, [this] { document_.select(bakes_->currentData().toUInt()); });
  connect(add, &QPushButton::clicked, this, &BakeView::addBake);
  emitters_ = new QWidget;
  emitters_->setObjectName("bake_emitters");
  layout->addWidget(emitters_);
  inspector_ = new Inspector(document_);
  layout->addWidget(inspector_, 1);
  plan_ = new QLabel;
  plan_->setObjectName("bake_plan");
  plan_->setWordWrap(true);
  layout->addWidget(plan_);
  addRunRow(*layout);
  addFolderRow(*layout);
  addOnSave(*layout);
  message_ = new QLabel;
  message_->setObjectName("bake_message");
  message_->setWordWrap(true);
  message_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  message_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
  // Room for two lines is kept, or buttons would move when there is something to say.
  message_->setMinimumHeight(2 * message_->fontMetrics().lineSpacing());
  layout->addWidget(message_);
  setWorking(false);
  return panel;
}

void BakeView::addRunRow(QVBoxLayout& layout) {
  progress_ = new QProgressBar;
  QSizePolicy keepsRoom = progress_->sizePolicy();
  keepsRoom.setRetainSizeWhenHidden(true);
  progress_->setSizePolicy(keepsRoom);
  layout.addWidget(progress_);
  auto* row = new QHBoxLayout;
  start_ = new QPushButton(theme::mark("bake", theme::kGround), tr("Bake"));
  start_->setObjectName("bake_start");
  start_->setProperty("main", true);
  fit_ = new QPushButton(tr("Fit view"));
  fit_->setObjectName("bake_fit");
  fit_->setToolTip(tr("Gives the bake a view of its own that holds the effect in all of its frames"));
  cancel_ = new QPushButton(tr("Cancel"));
  cancel_->setObjectName("bake_cancel");
  row->addWidget(start_, 1);
  row->addWidget(fit_);
  row->addWidget(cancel_);
  layout.addLayout(row);
  connect(start_, &QPushButton::clicked, this, &BakeView::startBake);
  connect(fit_, &QPushButton::clicked, this, &BakeView::fitView);
  connect(cancel_, &QPushButton::clicked, &run_, &BakeRun::cancel);
}

void BakeView::addFolderRow(QVBoxLayout& layout) {
  auto* row = new QHBoxLayout;
  folder_ = new QLineEdit(defaultFolder());
  folder_->setObjectName("bake_folder");
  folder_->setToolTip(tr("The folder to which sheets and their description are exported"));
  auto* browse = new QToolButton;
  browse->setIcon(theme::mark("open"));
  browse->setToolTip(tr("Choose the folder"));
  write_ = new QPushButton(theme::mark("save"), tr("Export"));
  write_->setObjectName("bake_write");
  write_->setToolTip(tr("Exports the sheets that are shown, and their description"));
  writeAll_ = new QPushButton(tr("All"));
  writeAll_->setObjectName("bake_write_all");
  writeAll_->setToolTip(tr("Bakes every bake of the scene again and exports its files"));
  row->addWidget(folder_, 1);
  row->addWidget(browse);
  row->addWidget(write_);
  row->addWidget(writeAll_);
  layout.addLayout(row);
  use_ = new QPushButton(theme::mark("emitter"), tr("Use in a new scene"));
  use_->setObjectName("bake_use");
  use_->setToolTip(
      tr("Exports the sheets that are shown, and opens a scene whose sprites play them, as in a game, "
         "with a light that flickers"));
  layout.addWidget(use_);
  connect(use_, &QPushButton::clicked, this, [this] {
    usesAfterWriting_ = true;
    writeFiles(false);
  });
  connect(browse, &QToolButton::clicked, this, [this] {
    const QString chosen =
        QFileDialog::getExistingDirectory(this, tr("Folder for the flipbook"), folder_->text());
    if (!chosen.isEmpty()) folder_->setText(chosen);
  });
  connect(write_, &QPushButton::clicked, this, [this] { writeFiles(false); });
  connect(writeAll_, &QPushButton::clicked, this, [this] { writeFiles(true); });
}

void BakeView::addOnSave(QVBoxLayout& layout) {
  onSave_ = new QCheckBox(tr("Export all when the scene is saved"));
  onSave_->setObjectName("bake_on_save");
  onSave_->setToolTip(tr(
      "Bakes every bake of the scene and replaces its files whenever the scene is saved, so that a game that "
      "runs can read them again"));
  layout.addWidget(onSave_);
  connect(&document_, &Document::saved, this, [this] {
    if (onSave_->isChecked()) exportWhenFree();
  });
}

QWidget* BakeView::makeFindings(const std::shared_ptr<FrameCache>& cache) {
  auto* panel = new QWidget;
  panel->setProperty("panel", true);
  panel->setFixedWidth(kFindingsWidth);
  auto* layout = new QVBoxLayout(panel);
  layout->setContentsMargins(8, 8, 8, 8);
  auto* title = new QLabel(tr("Bake check"));
  title->setFont(theme::font(12, true));
  layout->addWidget(title);
  layout->addWidget(checks_, 1);
  // Below the list, whose rows would move with its lines.
  facts_ = new QLabel;
  facts_->setObjectName("bake_facts");
  facts_->setWordWrap(true);
  facts_->setProperty("quiet", true);
  layout->addWidget(facts_);
  connect(checks_, &CheckList::chosen, stage_, &BakeStage::mark);
  connect(checks_, &CheckList::remedyWanted, this, &BakeView::fix);
  layout->addWidget(new DataPanel(document_, cache, [this] { return folder_->text(); }));
  return panel;
}

void BakeView::enter() {
  selectedBefore_ = document_.selected();
  if (bake()) document_.select(bake()->id);
  refresh();
}

void BakeView::leave() {
  stage_->setPlaying(false);
  if (document_.scene().find(selectedBefore_)) document_.select(selectedBefore_);
}

void BakeView::reveal(const std::string& param) { inspector_->reveal(param); }

Scene::ItemPtr BakeView::bake() const {
  Scene::ItemPtr selected = document_.scene().find(document_.selected());
  if (selected && selected->kind->family() == ItemFamily::Bake) return selected;
  const auto bakes = document_.scene().itemsOf(ItemFamily::Bake);
  return bakes.empty() ? nullptr : bakes.front();
}

void BakeView::addBake() {
  const Scene next = document_.scene().withAdded(newBake(document_.scene().freeName("flipbook")));
  document_.edit(next, tr("add bake"));
  document_.select(next.items().back()->id);
}

// A box for each emitter and gas, if there are several to choose from. The boxes stay while the emitters do:
// it may be one of them that has just been clicked.
void BakeView::refreshEmitters(const Item& bake) {
  std::vector<ItemId> emitters;
  for (const Scene::ItemPtr& item : document_.scene().items())
    if (responds(item->kind->family())) emitters.push_back(item->id);
  emitters_->setVisible(emitters.size() > 1);
  if (std::exchange(shownEmitters_, emitters) != emitters) makeEmitterBoxes();
  const auto boxes = emitters_->findChildren<QCheckBox*>();
  for (qsizetype i = 0; i < boxes.size(); ++i) {
    const Scene::ItemPtr emitter = document_.scene().find(emitters[static_cast<std::size_t>(i)]);
    boxes[i]->setText(QString::fromStdString(emitter->name));
    boxes[i]->setObjectName(QString("bakes.%1").arg(boxes[i]->text()));
    boxes[i]->setChecked(document_.scene().response(emitter->id, bake.id).percent.has_value());
  }
}

void BakeView::makeEmitterBoxes() {
  delete emitters_->layout();
  qDeleteAll(emitters_->findChildren<QCheckBox*>());
  auto* grid = new QGridLayout(emitters_);
  grid->setContentsMargins(0, 0, 0, 0);
  constexpr int kColumns = 3;
  for (std::size_t i = 0; i < shownEmitters_.size(); ++i) {
    auto* box = new QCheckBox;
    box->setToolTip(tr("Draws it in the bake. It is simulated in any case"));
    grid->addWidget(box, static_cast<int>(i) / kColumns, static_cast<int>(i) % kColumns);
    connect(box, &QCheckBox::clicked, this, [this, emitter = shownEmitters_[i]](bool isBaked) {
      const Response response{isBaked ? std::optional<double>(kFullResponse) : std::nullopt};
      document_.edit(document_.scene().withResponse(emitter, bake()->id, response), tr("choose emitters"));
    });
  }
}

void BakeView::refresh() {
  bakes_->clear();
  for (const Scene::ItemPtr& item : document_.scene().itemsOf(ItemFamily::Bake))
    bakes_->addItem(QString::fromStdString(item->name), item->id);
  const Scene::ItemPtr item = bake();
  const bool isFree = item != nullptr && !cancel_->isEnabled();
  start_->setEnabled(isFree);
  fit_->setEnabled(isFree);
  writeAll_->setEnabled(isFree);
  emitters_->setVisible(item != nullptr);
  if (!item) {
    plan_->setText(tr("This scene has no bake yet. Add one with + Bake."));
    return;
  }
  bakes_->setCurrentIndex(bakes_->findData(item->id));
  refreshEmitters(*item);
  try {
    const FlipbookLayout layout = flipbookLayout(document_.scene(), *item);
    const std::vector<std::string> problems =
        layout.loop == LoopKind::Exact ? loopProblems(document_.scene()) : std::vector<std::string>();
    plan_->setText(problems.empty()
                       ? planText(layout, pixelDensity(document_.scene(), *item, layout.firstFrame))
                       : tr("The loop will not be exact. %1").arg(QString::fromStdString(problems.front())));
    theme::setState(*plan_, "trouble", !problems.empty());
  } catch (const Error& error) {
    plan_->setText(QString::fromUtf8(error.what()));
    theme::setState(*plan_, "trouble", true);
    start_->setEnabled(false);
    fit_->setEnabled(false);
  }
  sayWhetherOutdated();
}

void BakeView::sayWhetherOutdated() {
  const bool isOutdated = sheet_ && sheet_->scene != document_.scene();
  if (std::exchange(isOutdated_, isOutdated) != isOutdated)
    say(isOutdated ? tr("The scene has changed since this sheet was baked.") : QString(), false);
}

void BakeView::setWorking(bool works) {
  // The keyboard goes to what can be done next, rather than wherever a button that is disabled lets it go.
  const bool hadKeyboard = start_->hasFocus() || cancel_->hasFocus();
  cancel_->setEnabled(true);
  start_->setEnabled(true);
  if (hadKeyboard) (works ? cancel_ : start_)->setFocus();
  cancel_->setEnabled(works);
  checks_->setEnabled(true);
  for (QPushButton* button : {start_, fit_, writeAll_}) button->setEnabled(!works && bake());
  for (QPushButton* button : {write_, use_}) button->setEnabled(!works && sheet_);
  progress_->setVisible(works);
  if (!works && exportsWhenFree_) QTimer::singleShot(0, this, &BakeView::exportWhenFree);
}

void BakeView::say(const QString& text, bool isTrouble) {
  message_->setText(text);
  theme::setState(*message_, "trouble", isTrouble);
}

void BakeView::begin() {
  startedAt_ = QDateTime::currentMSecsSinceEpoch();
  setWorking(true);
  say({}, false);
}

void BakeView::startBake() {
  begin();
  run_.start(document_.scene(), bake()->id);
}

void BakeView::fitView() {
  begin();
  run_.fit(document_.scene(), bake()->id);
}

void BakeView::fix(const Remedy& remedy) {
  const ItemId id = sheet_->layout().bake;
  if (!document_.scene().find(id)) return say(tr("The bake that this was found in has been removed."), true);
  document_.select(id);
  document_.edit(fixed(document_.scene(), id, remedy), QString::fromStdString(remedy.label).toLower());
  // What still runs is of the scene before: it starts again with all the fixes so far.
  bakesAfterFit_ |= remedy.fits;
  if (bakesAfterFit_)
    fitView();
  else
    startBake();
}

void BakeView::showSheet(const std::shared_ptr<const BakedSheet>& sheet) {
  const bool isFirst = !sheet_;
  sheet_ = sheet;
  sayWhetherOutdated();
  setWorking(false);
  stage_->setSheet(sheet);
  stage_->setPlaying(isVisible() && (isFirst || stage_->isPlaying()));
  checks_->setSheet(sheet);
  const FlipbookLayout& layout = sheet->layout();
  QString facts =
      layout.variants.size() > 1 ? tr("%1 variants, each: ").arg(layout.variants.size()) : QString();
  facts += tr("%1 cells at %2 fps: %3 s, %4 × %5 px each.")
               .arg(layout.cellsEach())
               .arg(layout.framesPerSecond, 0, 'g', 4)
               .arg(layout.seconds(), 0, 'f', 2)
               .arg(layout.cellWidth)
               .arg(layout.cellHeight);
  if (layout.loop == LoopKind::Exact && sheet->book.isExact)
    facts +=
        tr(" The loop is exact: the frame after the last equals the first, particle for particle and pixel "
           "for pixel.");
  if (const auto& texture = sheet->book.texture) {
    const std::string format(traitsOf(texture->format).name);
    facts += tr(" GPU texture: %1, %2 mip levels, %3 dB; the worst cell is %4 with %5 dB.")
                 .arg(QString::fromStdString(format).replace('_', ' ').toUpper())
                 .arg(texture->levels)
                 .arg(texture->all, 0, 'f', 1)
                 .arg(texture->worst() + 1)
                 .arg(texture->cells[texture->worst()], 0, 'f', 1);
  }
  facts_->setText(facts);
  for (const Finding& finding : sheet->findings)
    if (finding.check == kLightWithoutAlpha)
      say(tr("Before you export: %1.").arg(QString::fromStdString(finding.text)), true);
}

void BakeView::forget() {
  run_.cancel();
  exportsWhenFree_ = false;
  onSave_->setChecked(false);
  sheet_.reset();
  stage_->setSheet(nullptr);
  checks_->setSheet(nullptr);
  facts_->clear();
  say({}, false);
  for (QPushButton* button : {write_, use_}) button->setEnabled(false);
}

void BakeView::writeFiles(bool all) {
  begin();
  // A remedy would begin a bake in the midst of it.
  checks_->setEnabled(false);
  if (all)
    run_.writeAll(document_.scene(), folder_->text());
  else
    run_.write(sheet_, folder_->text());
}

void BakeView::exportWhenFree() {
  exportsWhenFree_ = cancel_->isEnabled();
  if (!exportsWhenFree_ && bake()) writeFiles(true);
}

}  // namespace comet
