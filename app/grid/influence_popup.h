// A small window that adds an influence: type a part of its name, choose who answers to it.
#pragma once

#include "session/document.h"

#include <QWidget>

class QCheckBox;
class QLineEdit;
class QListWidget;
class QListWidgetItem;

namespace comet {

class InfluencePopup : public QWidget {
  Q_OBJECT

 public:
  static void open(Document& document, const QPoint& place, QWidget* parent);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  InfluencePopup(Document& document, QWidget* parent);

  void filter(const QString& text);
  void add(const QListWidgetItem& chosen);

  Document& document_;
  QLineEdit* search_;
  QListWidget* kinds_;
  QCheckBox* onlySelected_;
};

}  // namespace comet
