// A small window that adds an influence: type what it is called or what it does, choose whom it acts on.
#pragma once

#include "session/document.h"

#include <QWidget>

class QCheckBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QListWidgetItem;

namespace comet {

// Adds an influence that acts on all emitters, or only on the selected one, and selects it.
void addInfluence(Document& document, const KindSpec& kind, bool onlyOnSelected = false);

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
  QLabel* nothing_;
  QCheckBox* onlySelected_;
};

}  // namespace comet
