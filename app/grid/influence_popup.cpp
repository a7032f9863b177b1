#include "grid/influence_popup.h"

#include "catalog.h"
#include "params/search.h"
#include "theme/theme.h"
#include "theme/words.h"

#include <QCheckBox>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>

namespace comet {
namespace {

constexpr int kChoiceHeight = 25;

}  // namespace

void InfluencePopup::open(Document& document, const QPoint& place, QWidget* parent) {
  auto* popup = new InfluencePopup(document, parent);
  popup->move(place);
  popup->show();
  popup->search_->setFocus();
}

InfluencePopup::InfluencePopup(Document& document, QWidget* parent)
    : QWidget(parent, Qt::Popup),
      document_(document),
      search_(new QLineEdit),
      kinds_(new QListWidget),
      nothing_(new QLabel(tr("No influence is called so or does so."))),
      onlySelected_(new QCheckBox) {
  setObjectName("influence_popup");
  setProperty("panel", true);
  setAttribute(Qt::WA_StyledBackground);
  setAttribute(Qt::WA_DeleteOnClose);
  setFixedWidth(300);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 8, 8, 8);
  column->setSpacing(6);
  search_->setObjectName("influence_search");
  search_->setPlaceholderText(tr("Search by name or by what it does"));
  search_->installEventFilter(this);
  column->addWidget(search_);
  kinds_->setObjectName("influence_kinds");
  kinds_->setFrameShape(QFrame::NoFrame);
  for (const KindSpec* kind : catalog().kindsOf(ItemFamily::Influence)) {
    auto* entry = new QListWidgetItem(theme::mark(text(kind->id())), text(kind->label()), kinds_);
    entry->setData(Qt::UserRole, text(kind->id()));
    entry->setToolTip(text(kind->tip()));
    entry->setSizeHint({0, kChoiceHeight});
  }
  kinds_->setFixedHeight(kChoiceHeight * kinds_->count() + 4);
  column->addWidget(kinds_);
  nothing_->setProperty("quiet", true);
  column->addWidget(nothing_);
  const Scene::ItemPtr emitter = document_.scene().find(document_.selectedEmitter());
  onlySelected_->setObjectName("influence_only_selected");
  onlySelected_->setText(emitter ? tr("Acts on %1 only").arg(text(emitter->name)) : QString());
  onlySelected_->setToolTip(tr("Otherwise it acts on all emitters at 100 %."));
  onlySelected_->setVisible(emitter != nullptr);
  column->addWidget(onlySelected_);
  connect(search_, &QLineEdit::textChanged, this, &InfluencePopup::filter);
  connect(search_, &QLineEdit::returnPressed, this, [this] {
    if (kinds_->currentItem()) add(*kinds_->currentItem());
  });
  connect(kinds_, &QListWidget::itemClicked, this, [this](QListWidgetItem* chosen) { add(*chosen); });
  connect(kinds_, &QListWidget::itemActivated, this, [this](QListWidgetItem* chosen) { add(*chosen); });
  filter({});
}

void InfluencePopup::filter(const QString& typed) {
  // What fits best is chosen; without a word, the first.
  std::optional<int> best;
  QListWidgetItem* chosen = nullptr;
  for (int i = 0; i < kinds_->count(); ++i) {
    QListWidgetItem* entry = kinds_->item(i);
    const std::optional<int> rank =
        typed.trimmed().isEmpty()
            ? 0
            : searchRank({entry->text().toStdString(), {}, {}, entry->toolTip().toStdString()},
                         typed.trimmed().toStdString());
    entry->setHidden(!rank);
    if (!rank || (best && *rank >= *best)) continue;
    best = rank;
    chosen = entry;
  }
  kinds_->setCurrentItem(chosen);
  nothing_->setVisible(!chosen);
}

bool InfluencePopup::eventFilter(QObject* watched, QEvent* event) {
  if (watched == search_ && event->type() == QEvent::KeyPress) {
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (key == Qt::Key_Down || key == Qt::Key_Up) {
      const int step = key == Qt::Key_Down ? 1 : -1;
      for (int row = kinds_->currentRow() + step; row >= 0 && row < kinds_->count(); row += step)
        if (!kinds_->item(row)->isHidden()) {
          kinds_->setCurrentRow(row);
          break;
        }
      return true;
    }
  }
  return QWidget::eventFilter(watched, event);
}

void InfluencePopup::add(const QListWidgetItem& chosen) {
  addInfluence(document_, *catalog().find(chosen.data(Qt::UserRole).toString().toStdString()),
               onlySelected_->isChecked());
  close();
}

void addInfluence(Document& document, const KindSpec& kind, bool onlyOnSelected) {
  Scene next = document.scene().withAdded(newItem(kind, document.scene().freeName(kind.id())));
  const ItemId added = next.items().back()->id;
  if (onlyOnSelected)
    for (const Scene::ItemPtr& item : document.scene().items())
      if (responds(item->kind->family()) && item->id != document.selectedEmitter())
        next = next.withResponse(item->id, added, {});
  document.edit(next, QObject::tr("add influence"));
  document.select(added);
}

}  // namespace comet
