// The field that finds any control, action or page of the guide by the words that people use for it.
//
// The list below the field is a plain child of the window, with the best match first and chosen: Enter takes
// it, the arrow keys choose another, a click takes what it points at. It is made from the scene each time it
// is needed.
#pragma once

#include "session/document.h"

#include <QLineEdit>
#include <functional>
#include <optional>
#include <vector>

class QListWidget;

namespace comet {

// Something other than a control that can be found, and what is done then.
struct FoundAction {
  QString group;  // where it belongs, shown before the label
  QString label, tip;
  std::function<void()> run;
};

class FindControl : public QLineEdit {
  Q_OBJECT

 public:
  explicit FindControl(Document& document, QWidget* parent = nullptr);

  // What is found beside the controls of the scene's items.
  void setActions(std::vector<FoundAction> actions) { actions_ = std::move(actions); }

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
    QString text;  // "item › section › label"
    int rank = 0;  // the best is 0
    std::function<void()> take;
  };

  std::vector<Match> matches(const QString& words);
  static QString remedy(const Item& item, const Condition& unmet);
  void addControls(const std::string& words, std::vector<Match>& fits);
  // The word that may have been meant where nothing is found.
  std::optional<QString> meant(const QString& words);
  void offer();
  void showList();
  void choose(int row);

  Document& document_;
  QListWidget* list_;
  std::vector<FoundAction> actions_;
  std::vector<Match> matches_;    // as listed
  bool clickSelectsAll_ = false;  // the click that brought the keyboard is not complete
};

}  // namespace comet
