#include "presets/preset_panel.h"

#include "base/error.h"
#include "controls/menu.h"
#include "params/search.h"
#include "presets/preset_tiles.h"
#include "theme/theme.h"
#include "theme/words.h"

#include <QComboBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QToolButton>
#include <algorithm>

namespace comet {
namespace {

QString presetFilter() { return QObject::tr("Presets (*.comet)"); }

}  // namespace

PresetPanel::PresetPanel(Document& document, QWidget* parent)
    : QWidget(parent),
      document_(document),
      search_(new QLineEdit),
      category_(new QComboBox),
      note_(new QLabel),
      tiles_(new PresetTiles),
      reading_(this, [this](const std::vector<OfferedPreset>& offered) { take(offered); }) {
  setObjectName("preset_panel");
  setProperty("panel", true);
  setAttribute(Qt::WA_StyledBackground);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 6, 4, 4);
  column->setSpacing(6);
  auto* head = new QHBoxLayout;
  head->setSpacing(4);
  search_->setObjectName("preset_search");
  search_->setPlaceholderText(tr("Find a preset"));
  connect(search_, &QLineEdit::textChanged, this, &PresetPanel::refill);
  connect(search_, &QLineEdit::returnPressed, tiles_, [this] { tiles_->setFocus(Qt::TabFocusReason); });
  head->addWidget(search_, 1);
  category_->setObjectName("preset_category");
  category_->setToolTip(tr("Which presets are shown"));
  connect(category_, &QComboBox::activated, this, &PresetPanel::refill);
  head->addWidget(category_);
  auto* fromFile = new QToolButton;
  fromFile->setIcon(theme::mark("open"));
  fromFile->setToolTip(tr("Add a preset from a file to your own"));
  connect(fromFile, &QToolButton::clicked, this, &PresetPanel::importFile);
  head->addWidget(fromFile);
  auto* close = new QToolButton;
  close->setObjectName("preset_close");
  close->setText("×");
  close->setToolTip(tr("Back to the inspector (Esc)"));
  connect(close, &QToolButton::clicked, this, &PresetPanel::closed);
  head->addWidget(close);
  column->addLayout(head);
  note_->setProperty("quiet", true);
  column->addWidget(note_);
  auto* scroll = new QScrollArea;
  scroll->setWidget(tiles_);
  scroll->setWidgetResizable(true);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  connect(scroll->verticalScrollBar(), &QScrollBar::valueChanged, tiles_, &PresetTiles::drawPictures);
  column->addWidget(scroll, 1);
  connect(tiles_, &PresetTiles::chosen, this, &PresetPanel::add);
  connect(tiles_, &PresetTiles::menuWanted, this, &PresetPanel::showMenu);
}

void PresetPanel::showEvent(QShowEvent*) {
  read();
  search_->setFocus();
}

// Nothing is drawn for nobody.
void PresetPanel::hideEvent(QHideEvent*) { tiles_->rest(); }

// Behind the window: all demos take longer than it may wait.
void PresetPanel::read() {
  if (offered_.empty()) note_->setText(tr("Reading the presets…"));
  reading_.ask(
      [files = document_.files()](const Progress& progress) { return offeredPresets(files, progress); });
}

void PresetPanel::take(const std::vector<OfferedPreset>& offered) {
  // Pictures are kept by what they were drawn of.
  std::vector<OfferedPreset> next = offered;
  for (OfferedPreset& preset : next)
    for (const OfferedPreset& before : offered_)
      if (before.preset->name == preset.preset->name && before.preset->scene == preset.preset->scene)
        preset.preset = before.preset;
  offered_ = std::move(next);
  const QString chosen = category_->currentText();
  category_->clear();
  category_->addItem(tr("All"));
  for (const OfferedPreset& preset : offered_)
    if (category_->findText(preset.category) < 0) category_->addItem(preset.category);
  category_->setCurrentIndex(std::max(0, category_->findText(chosen)));
  refill();
}

void PresetPanel::refill() {
  const std::string typed = search_->text().trimmed().toStdString();
  std::vector<std::pair<int, std::size_t>> ranked;
  for (std::size_t i = 0; i < offered_.size(); ++i) {
    const OfferedPreset& preset = offered_[i];
    if (category_->currentIndex() > 0 && preset.category != category_->currentText()) continue;
    const SearchEntry entry{preset.preset->name, preset.category.toStdString(), {}, preset.preset->words};
    const auto rank = typed.empty() ? std::optional(0) : searchRank(entry, typed);
    if (rank) ranked.emplace_back(*rank, i);
  }
  std::stable_sort(ranked.begin(), ranked.end(),
                   [](const auto& a, const auto& b) { return a.first < b.first; });
  std::vector<std::size_t> shown(ranked.size());
  std::transform(ranked.begin(), ranked.end(), shown.begin(), [](const auto& each) { return each.second; });
  note_->setText(shown.empty() ? tr("No preset is called or described so")
                               : tr("Click to add, or drag into the viewport; on a mesh, it is born there"));
  tiles_->show(offered_, std::move(shown));
}

void PresetPanel::edit(const Merged& merged) {
  isAdding_ = true;
  document_.edit(merged.scene, tr("add preset"));
  if (!merged.added.empty()) document_.select(merged.added.front());
  isAdding_ = false;
}

void PresetPanel::add(std::size_t preset) { edit(withPreset(document_.scene(), *offered_[preset].preset)); }

void PresetPanel::addAt(std::size_t preset, const Vec3d& place, ItemId meshItem) {
  if (preset >= offered_.size()) return;
  const Preset& dropped = *offered_[preset].preset;
  edit(meshItem ? withPresetOn(document_.scene(), dropped, meshItem)
                : withPreset(document_.scene(), dropped, place));
}

void PresetPanel::keep(ItemId emitter) {
  try {
    keepPreset(presetOf(document_.scene(), emitter));
    if (isVisible()) read();
  } catch (const Error& error) {
    Q_EMIT failed(QString::fromUtf8(error.what()));
  }
}

void PresetPanel::showMenu(std::size_t preset, const QPoint& place) {
  const OfferedPreset offered = offered_[preset];
  QMenu* menu = newMenu(this);
  menu->setObjectName("preset_menu");
  menu->addAction(tr("Add"), this, [this, offered] { edit(withPreset(document_.scene(), *offered.preset)); });
  menu->addAction(tr("Save as a file…"), this, [this, offered] { saveAs(*offered.preset); });
  if (!offered.path.isEmpty())
    menu->addAction(tr("Forget"), this, [this, offered] {
      forgetPreset(offered);
      read();
    });
  menu->popup(place);
}

void PresetPanel::saveAs(const Preset& preset) {
  const QString path =
      QFileDialog::getSaveFileName(this, tr("Save the preset"), text(preset.name) + ".comet", presetFilter());
  if (path.isEmpty()) return;
  try {
    writePreset(path.toStdString(), preset);
  } catch (const Error& error) {
    Q_EMIT failed(QString::fromUtf8(error.what()));
  }
}

void PresetPanel::importFile() {
  const QString path = QFileDialog::getOpenFileName(this, tr("Add a preset"), {}, presetFilter());
  if (path.isEmpty()) return;
  try {
    importPreset(path, document_.files());
    read();
  } catch (const Error& error) {
    Q_EMIT failed(QString::fromUtf8(error.what()));
  }
}

void PresetPanel::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) return Q_EMIT closed();
  QWidget::keyPressEvent(event);
}

}  // namespace comet
