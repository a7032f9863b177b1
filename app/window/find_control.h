// The field that finds any control by its name, in its item.
//
// The list below the field is a plain child of the window, with the best match first and chosen: Enter takes
// it, the arrow keys choose another, a click takes what it points at. It is made from the scene each time it
// is needed.
#pragma once

#include "session/document.h"

#include <QLineEdit>
#include <vector>

class QListWidget;

namespace comet {

class FindControl : public QLineEdit {
  Q_OBJECT

 public:
  explicit FindControl(Document& document, QWidget* parent = nullptr);

  // Takes the keyboard; what was typed before is replaced by what is typed next.
  void begin();

 Q_SIGNALS:
  void found(comet::ItemId item, const QString& param);

 protected:
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;

 private:
  struct Match {
    ItemId item = 0;
    QString param;
    QString text;  // "item › label"
    int rank = 0;  // the best is 0
  };

  std::vector<Match> matches(const QString& words) const;
  void offer();
  void showList();
  void choose(int row);

  Document& document_;
  QListWidget* list_;
  std::vector<Match> matches_;    // as listed
  bool clickSelectsAll_ = false;  // the click that brought the keyboard is not complete
};

}  // namespace comet
