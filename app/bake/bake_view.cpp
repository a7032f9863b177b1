#include "bake/bake_view.h"

#include "bake/bake_kind.h"
#include "bake/data_panel.h"
#include "bake/sheet_view.h"
#include "base/error.h"
#include "inspector/inspector.h"
#include "theme/theme.h"

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
#include <QToolButton>
#include <QVBoxLayout>

namespace comet {
namespace {

constexpr int kSettingsWidth = 370;
constexpr int kPlayerWidth = 232;
const char* const kFolderKey = "bake/folder";

QString defaultFolder() {
  const QString home = QStandardPaths::writableLocation(QStandardPaths::PicturesLocation);
  return QSettings().value(kFolderKey, QDir(home).filePath("flipbooks")).toString();
}

}  // namespace

BakeView::BakeView(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), view_(new SheetView) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(4);
  row->addWidget(makeSettings());
  row->addWidget(view_, 1);
  row->addWidget(makePlayer());
  connect(view_, &SheetView::cellChosen, this, [this](int cell) {
    play_->setChecked(false);
    player_->setCell(cell);
  });
  connect(player_, &CellPlayer::cellShown, view_, &SheetView::setCell);
  connect(&document_, &Document::sceneChanged, this, &BakeView::refresh);
  connect(&run_, &BakeRun::progressed, this, [this](int done, int total) {
    progress_->setRange(0, total);
    progress_->setValue(done);
    const double seconds = static_cast<double>(QDateTime::currentMSecsSinceEpoch() - startedAt_) / 1000;
    progress_->setFormat(done > 0 ? tr("%v of %m, %1 s left").arg(seconds / done * (total - done), 0, 'f', 1)
                                  : tr("%v of %m"));
  });
  connect(&run_, &BakeRun::finished, this, &BakeView::showSheet);
  connect(&run_, &BakeRun::failed, this, [this](const QString& problem) {
    setBaking(false);
    say(problem, true);
  });
  connect(&run_, &BakeRun::cancelled, this, [this] {
    setBaking(false);
    say(tr("Cancelled; the sheet before it is still here."), false);
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
  add->setToolTip(tr("Another flipbook of the same scene"));
  row->addWidget(add);
  layout->addLayout(row);
  connect(bakes_, &QComboBox::activated, this, [this] { document_.select(bakes_->currentData().toUInt()); });
  connect(add, &QPushButton::clicked, this, &BakeView::addBake);
  layout->addWidget(new Inspector(document_), 1);

  plan_ = new QLabel;
  plan_->setWordWrap(true);
  layout->addWidget(plan_);
  progress_ = new QProgressBar;
  layout->addWidget(progress_);
  row = new QHBoxLayout;
  start_ = new QPushButton(theme::mark("bake", theme::kGround), tr("Bake"));
  start_->setObjectName("bake_start");
  start_->setProperty("main", true);
  cancel_ = new QPushButton(tr("Cancel"));
  cancel_->setObjectName("bake_cancel");
  row->addWidget(start_, 1);
  row->addWidget(cancel_);
  layout->addLayout(row);
  connect(start_, &QPushButton::clicked, this, &BakeView::startBake);
  connect(cancel_, &QPushButton::clicked, &run_, &BakeRun::cancel);

  row = new QHBoxLayout;
  folder_ = new QLineEdit(defaultFolder());
  folder_->setObjectName("bake_folder");
  folder_->setToolTip(tr("The folder that the picture and its description are written to"));
  auto* browse = new QToolButton;
  browse->setIcon(theme::mark("open"));
  browse->setToolTip(tr("Choose the folder"));
  write_ = new QPushButton(theme::mark("save"), tr("Write files"));
  write_->setObjectName("bake_write");
  row->addWidget(folder_, 1);
  row->addWidget(browse);
  row->addWidget(write_);
  layout->addLayout(row);
  connect(browse, &QToolButton::clicked, this, [this] {
    const QString chosen =
        QFileDialog::getExistingDirectory(this, tr("Folder for the flipbook"), folder_->text());
    if (!chosen.isEmpty()) folder_->setText(chosen);
  });
  connect(write_, &QPushButton::clicked, this, &BakeView::writeFiles);
  message_ = new QLabel;
  message_->setObjectName("bake_message");
  message_->setWordWrap(true);
  message_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  layout->addWidget(message_);
  setBaking(false);
  return panel;
}

QWidget* BakeView::makePlayer() {
  auto* panel = new QWidget;
  panel->setProperty("panel", true);
  panel->setFixedWidth(kPlayerWidth);
  auto* layout = new QVBoxLayout(panel);
  layout->setContentsMargins(8, 8, 8, 8);
  auto* title = new QLabel(tr("Playing"));
  title->setFont(theme::font(12, true));
  layout->addWidget(title);
  player_ = new CellPlayer;
  player_->setFixedHeight(kPlayerWidth - 16);
  layout->addWidget(player_);
  play_ = new QPushButton(theme::mark("play"), tr("Play"));
  play_->setCheckable(true);
  connect(play_, &QPushButton::toggled, player_, &CellPlayer::setPlaying);
  layout->addWidget(play_);
  facts_ = new QLabel;
  facts_->setWordWrap(true);
  layout->addWidget(facts_);
  layout->addWidget(new DataPanel(document_, [this] { return folder_->text(); }));
  layout->addStretch(1);
  return panel;
}

void BakeView::enter() {
  selectedBefore_ = document_.selected();
  if (bake()) document_.select(bake()->id);
  refresh();
}

void BakeView::leave() {
  play_->setChecked(false);
  if (document_.scene().find(selectedBefore_)) document_.select(selectedBefore_);
}

Scene::ItemPtr BakeView::bake() const {
  Scene::ItemPtr selected = document_.scene().find(document_.selected());
  if (selected && selected->kind->family() == ItemFamily::Bake) return selected;
  const auto bakes = document_.scene().itemsOf(ItemFamily::Bake);
  return bakes.empty() ? nullptr : bakes.front();
}

void BakeView::addBake() {
  const Scene next = document_.scene().withAdded(newItem(bakeKind(), document_.scene().freeName("flipbook")));
  document_.edit(next, tr("add bake"));
  document_.select(next.items().back()->id);
  refresh();
}

void BakeView::refresh() {
  bakes_->clear();
  for (const Scene::ItemPtr& item : document_.scene().itemsOf(ItemFamily::Bake))
    bakes_->addItem(QString::fromStdString(item->name), item->id);
  const Scene::ItemPtr item = bake();
  start_->setEnabled(item != nullptr && !cancel_->isEnabled());
  if (!item) {
    plan_->setText(tr("This scene has no bake yet. Add one with + Bake."));
    return;
  }
  bakes_->setCurrentIndex(bakes_->findData(item->id));
  try {
    const FlipbookLayout layout = flipbookLayout(document_.scene(), *item);
    plan_->setText(tr("%1 frames in %2 cells, sheet %3 × %4 px, %5 MB in video memory uncompressed")
                       .arg(layout.frames.size())
                       .arg(layout.columns * layout.rows)
                       .arg(layout.width())
                       .arg(layout.height())
                       .arg(layout.width() * 4.0 * layout.height() / (1 << 20), 0, 'f', 1));
    plan_->setProperty("trouble", false);
  } catch (const Error& error) {
    plan_->setText(QString::fromUtf8(error.what()));
    plan_->setProperty("trouble", true);
    start_->setEnabled(false);
  }
  plan_->style()->polish(plan_);
  if (sheet_ && sheet_->scene != document_.scene())
    say(tr("The scene has changed since this sheet was baked."), false);
}

void BakeView::setBaking(bool baking) {
  // The keyboard goes to what can be done next, rather than wherever a button that is disabled lets it go.
  const bool hadKeyboard = start_->hasFocus() || cancel_->hasFocus();
  cancel_->setEnabled(true);
  start_->setEnabled(true);
  if (hadKeyboard) (baking ? cancel_ : start_)->setFocus();
  start_->setEnabled(!baking);
  cancel_->setEnabled(baking);
  progress_->setVisible(baking);
  write_->setEnabled(sheet_ && !baking);
}

void BakeView::say(const QString& text, bool isTrouble) {
  message_->setText(text);
  message_->setProperty("trouble", isTrouble);
  message_->style()->polish(message_);
}

void BakeView::startBake() {
  startedAt_ = QDateTime::currentMSecsSinceEpoch();
  setBaking(true);
  say({}, false);
  run_.start(document_.scene(), bake()->id);
}

void BakeView::showSheet(const std::shared_ptr<const BakedSheet>& sheet) {
  sheet_ = sheet;
  setBaking(false);
  view_->setSheet(sheet);
  player_->setSheet(sheet);
  play_->setChecked(isVisible());
  player_->setPlaying(play_->isChecked());
  const FlipbookLayout& layout = sheet->layout;
  facts_->setText(tr("%1 cells at %2 /s: %3 s\n%4 × %5 px a cell")
                      .arg(layout.frames.size())
                      .arg(layout.framesPerSecond, 0, 'g', 4)
                      .arg(static_cast<double>(layout.frames.size()) / layout.framesPerSecond, 0, 'f', 2)
                      .arg(layout.cellWidth)
                      .arg(layout.cellHeight));
}

void BakeView::writeFiles() {
  try {
    const auto paths = writeFlipbook(sheet_->sheet, sheet_->layout, folder_->text().toStdString());
    QSettings().setValue(kFolderKey, folder_->text());
    const double size = static_cast<double>(std::filesystem::file_size(paths.front())) / 1024;
    say(tr("Wrote %1 (%2 KB) and its description.")
            .arg(QString::fromStdString(paths.front().filename().string()))
            .arg(size, 0, 'f', 0),
        false);
  } catch (const Error& error) {
    say(QString::fromUtf8(error.what()), true);
  }
}

}  // namespace comet
