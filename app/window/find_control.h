// The field that finds any control by its name, in its item.
#pragma once

#include "session/document.h"

#include <QLineEdit>

class QStandardItemModel;

namespace comet {

class FindControl : public QLineEdit {
  Q_OBJECT

 public:
  explicit FindControl(Document& document, QWidget* parent = nullptr);

 Q_SIGNALS:
  void found(comet::ItemId item, const QString& param);

 private:
  void list();
  void choose(const QModelIndex& index);

  Document& document_;
  QStandardItemModel* entries_;
};

}  // namespace comet
