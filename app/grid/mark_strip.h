// What the left column folds to: a mark for each item of the scene. A click selects, a second one wants the
// column back.
#pragma once

#include "session/document.h"

#include <QScrollArea>
#include <vector>

class QToolButton;

namespace comet {

class MarkStrip : public QScrollArea {
  Q_OBJECT

 public:
  explicit MarkStrip(Document& document, QWidget* parent = nullptr);

 Q_SIGNALS:
  // The controls of the selected item are wanted.
  void opened();

 private:
  void reread();
  void refresh();
  void addButton(const Item& item, QWidget& strip);

  Document& document_;
  std::vector<Scene::ItemPtr> items_;
  std::vector<QToolButton*> buttons_;  // one for each of them
};

}  // namespace comet
