#include "viewport/compare_bar.h"

#include "base/error.h"
#include "controls/menu.h"
#include "theme/theme.h"
#include "theme/words.h"

#include <QAbstractItemView>
#include <QBuffer>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QToolButton>
#include <algorithm>

namespace comet {
namespace {

constexpr QSize kKeptPicture{192, 120};  // at the most
constexpr QSize kIcon{32, 18};
constexpr int kListWidth = 140, kListHeight = 22;

std::string pngOf(const QImage& picture) {
  if (picture.isNull()) return {};
  QByteArray bytes;
  QBuffer buffer(&bytes);
  buffer.open(QIODevice::WriteOnly);
  picture.scaled(kKeptPicture, Qt::KeepAspectRatio, Qt::SmoothTransformation).save(&buffer, "PNG");
  return bytes.toStdString();
}

QIcon iconOf(const Snapshot& snapshot) {
  const QByteArray bytes = QByteArray::fromStdString(snapshot.picture);
  return QIcon(QPixmap::fromImage(QImage::fromData(bytes, "PNG")));
}

}  // namespace

CompareBar::CompareBar(Document& document, Viewport& viewport, QWidget* parent)
    : QWidget(parent),
      document_(document),
      viewport_(viewport),
      with_(new QComboBox),
      mode_(new QComboBox),
      more_(newArrowButton("snapshot_more", tr("Restore, rename or delete this snapshot"))) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(4);
  auto* keep = new QPushButton(tr("Snapshot"));
  keep->setObjectName("snapshot");
  keep->setToolTip(tr("Keeps the scene as it is now, to compare with or go back to (Shift+C)"));
  connect(keep, &QPushButton::clicked, this, &CompareBar::keep);
  row->addWidget(keep);
  with_->setObjectName("compare_with");
  // Its pictures would make it higher.
  with_->setFixedSize(kListWidth, kListHeight);
  with_->setIconSize(kIcon);
  with_->setInsertPolicy(QComboBox::NoInsert);
  with_->view()->setMinimumWidth(220);
  with_->setToolTip(tr("Compares the scene with a snapshot; C shows the snapshot alone and the scene again"));
  connect(with_, &QComboBox::activated, this, [this](int index) {
    viewport_.comparison().compareWith(index > 0 ? listed_[static_cast<std::size_t>(index - 1)] : nullptr);
  });
  row->addWidget(with_);
  mode_->setObjectName("compare_mode");
  mode_->addItems({tr("Wipe"), tr("Toggle"), tr("Side by side")});
  mode_->setToolTip(
      tr("How both are seen: parted by a line that you drag, one at a time by the key C, or "
         "beside each other"));
  connect(mode_, &QComboBox::activated, this,
          [this](int index) { viewport_.comparison().setMode(static_cast<CompareMode>(index)); });
  row->addWidget(mode_);
  connect(more_, &QToolButton::clicked, this, &CompareBar::showMenu);
  row->addWidget(more_);
  connect(&document_, &Document::sceneChanged, this, &CompareBar::refresh);
  connect(&viewport_.comparison(), &Comparison::changed, this, &CompareBar::refresh);
  refresh();
}

void CompareBar::refresh() {
  const Comparison& comparison = viewport_.comparison();
  if (listed_ != document_.scene().snapshots()) refill();
  const auto shown = std::find(listed_.begin(), listed_.end(), comparison.snapshot());
  if (!with_->isEditable())
    with_->setCurrentIndex(shown == listed_.end() ? 0 : static_cast<int>(shown - listed_.begin()) + 1);
  mode_->setCurrentIndex(static_cast<int>(comparison.mode()));
  with_->setVisible(!listed_.empty());
  mode_->setVisible(comparison.isOn());
  more_->setVisible(comparison.isOn());
}

void CompareBar::refill() {
  listed_ = document_.scene().snapshots();
  with_->clear();
  with_->addItem(tr("Compare with…"));
  for (const SnapshotPtr& snapshot : listed_) with_->addItem(iconOf(*snapshot), text(snapshot->name));
}

void CompareBar::keep() {
  try {
    document_.edit(withSnapshot(document_.scene(), tr("Snapshot").toStdString(), pngOf(viewport_.picture())),
                   tr("keep snapshot"));
  } catch (const Error& error) {
    Q_EMIT failed(QString::fromUtf8(error.what()));
  }
}

void CompareBar::toggle() {
  Comparison& comparison = viewport_.comparison();
  if (!comparison.isOn() && !listed_.empty()) comparison.compareWith(listed_.back());
  comparison.toggle();
}

void CompareBar::showMenu() {
  QMenu* menu = newMenu(this);
  menu->setObjectName("snapshot_menu");
  menu->addAction(tr("Restore"), this, &CompareBar::restore)
      ->setToolTip(tr("The scene becomes what it was; undo takes it back"));
  // Once the menu has given the keyboard back.
  menu->addAction(tr("Rename"), this, &CompareBar::startRenaming, Qt::QueuedConnection);
  menu->addAction(tr("Delete"), this, &CompareBar::remove);
  menu->popup(below(*more_));
}

void CompareBar::startRenaming() {
  with_->setEditable(true);
  with_->lineEdit()->setMaxLength(kMaxSnapshotName / 4);
  with_->lineEdit()->selectAll();
  with_->lineEdit()->setFocus();
  connect(with_->lineEdit(), &QLineEdit::editingFinished, this, &CompareBar::finishRenaming);
}

void CompareBar::finishRenaming() {
  if (!with_->isEditable()) return;
  const std::string name = with_->currentText().trimmed().toStdString();
  const SnapshotPtr snapshot = viewport_.comparison().snapshot();
  with_->setEditable(false);
  if (!snapshot || name == snapshot->name || !problemWithSnapshotName(name).empty()) return refresh();
  const Scene renamed = withRenamedSnapshot(document_.scene(), snapshot, name);
  const auto place = std::find(listed_.begin(), listed_.end(), snapshot) - listed_.begin();
  document_.edit(renamed, tr("rename snapshot"));
  viewport_.comparison().compareWith(renamed.snapshots()[static_cast<std::size_t>(place)]);
}

void CompareBar::restore() {
  const SnapshotPtr snapshot = viewport_.comparison().snapshot();
  document_.edit(restored(document_.scene(), *snapshot), tr("restore %1").arg(text(snapshot->name)));
}

void CompareBar::remove() {
  const SnapshotPtr snapshot = viewport_.comparison().snapshot();
  document_.edit(withoutSnapshot(document_.scene(), snapshot), tr("delete %1").arg(text(snapshot->name)));
}

}  // namespace comet
