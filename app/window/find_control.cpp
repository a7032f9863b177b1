#include "window/find_control.h"

#include <QAbstractItemView>
#include <QCompleter>
#include <QStandardItemModel>

namespace comet {
namespace {

constexpr int kItemRole = Qt::UserRole + 1;
constexpr int kParamRole = Qt::UserRole + 2;

}  // namespace

FindControl::FindControl(Document& document, QWidget* parent)
    : QLineEdit(parent), document_(document), entries_(new QStandardItemModel(this)) {
  setPlaceholderText(tr("Find a control (Ctrl+F)"));
  setObjectName("find_control");
  auto* completer = new QCompleter(entries_, this);
  completer->setFilterMode(Qt::MatchContains);
  completer->setCaseSensitivity(Qt::CaseInsensitive);
  completer->setMaxVisibleItems(12);
  setCompleter(completer);
  connect(completer, qOverload<const QModelIndex&>(&QCompleter::activated), this, &FindControl::choose);
  connect(&document_, &Document::sceneChanged, this, &FindControl::list);
  list();
}

void FindControl::list() {
  // The list is long; it is made again only when items or what applies to them may have changed.
  QStringList names;
  QList<QPair<ItemId, QString>> targets;
  for (const Scene::ItemPtr& item : document_.scene().items())
    for (std::size_t i = 0; i < item->values.size(); ++i) {
      if (!item->applies(i)) continue;
      const ParamSpec& spec = item->kind->params()[i];
      names << QString("%1 › %2").arg(QString::fromStdString(item->name), QString::fromStdString(spec.label));
      targets << qMakePair(item->id, QString::fromStdString(spec.id));
    }
  bool same = names.size() == entries_->rowCount();
  for (int i = 0; same && i < names.size(); ++i) same = entries_->item(i)->text() == names[i];
  if (same) return;
  entries_->clear();
  for (int i = 0; i < names.size(); ++i) {
    auto* entry = new QStandardItem(names[i]);
    entry->setData(targets[i].first, kItemRole);
    entry->setData(targets[i].second, kParamRole);
    entries_->appendRow(entry);
  }
}

void FindControl::choose(const QModelIndex& index) {
  Q_EMIT found(index.data(kItemRole).toUInt(), index.data(kParamRole).toString());
  // After the completer has put its text here.
  QMetaObject::invokeMethod(this, &QLineEdit::clear, Qt::QueuedConnection);
}

}  // namespace comet
