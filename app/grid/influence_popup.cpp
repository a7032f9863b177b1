#include "grid/influence_popup.h"

#include "catalog.h"
#include "theme/theme.h"
#include "theme/words.h"

#include <QCheckBox>
#include <QKeyEvent>
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
  search_->setPlaceholderText(tr("Type a part of its name or of what it does"));
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
  const Scene::ItemPtr emitter = document_.scene().find(document_.selectedEmitter());
  onlySelected_->setObjectName("influence_only_selected");
  onlySelected_->setText(emitter ? tr("Only %1 answers to it").arg(text(emitter->name)) : QString());
  onlySelected_->setToolTip(tr("Otherwise all emitters answer to it at 100 %."));
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
  QListWidgetItem* first = nullptr;
  for (int i = 0; i < kinds_->count(); ++i) {
    QListWidgetItem* entry = kinds_->item(i);
    const bool fits = entry->text().contains(typed, Qt::CaseInsensitive) ||
                      entry->toolTip().contains(typed, Qt::CaseInsensitive);
    entry->setHidden(!fits);
    // What is named so comes before what is described so.
    const bool isNamed = entry->text().startsWith(typed, Qt::CaseInsensitive);
    if (fits && (!first || (isNamed && !first->text().startsWith(typed, Qt::CaseInsensitive)))) first = entry;
  }
  kinds_->setCurrentItem(first);
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
  const KindSpec* kind = catalog().find(chosen.data(Qt::UserRole).toString().toStdString());
  Scene next = document_.scene().withAdded(newItem(*kind, document_.scene().freeName(kind->id())));
  const ItemId added = next.items().back()->id;
  if (onlySelected_->isChecked())
    for (const Scene::ItemPtr& emitter : next.itemsOf(ItemFamily::Emitter))
      if (emitter->id != document_.selectedEmitter()) next = next.withResponse(emitter->id, added, {});
  document_.edit(next, tr("add influence"));
  document_.select(added);
  close();
}

}  // namespace comet
