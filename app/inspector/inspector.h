// The parameters of the selected item, made from its kind's table, in sections that fold.
#pragma once

#include "controls/note_label.h"
#include "controls/param_row.h"
#include "session/background_answer.h"
#include "session/background_run.h"
#include "session/document.h"

#include <QTimer>
#include <QWidget>
#include <vector>

class QLabel;
class QVBoxLayout;
class QScrollArea;
class QToolButton;
class QLineEdit;

namespace comet {

class Inspector : public QWidget {
  Q_OBJECT

 public:
  // `run` tells how many particles live; null where nothing is simulated.
  explicit Inspector(Document& document, BackgroundRun* run = nullptr, QWidget* parent = nullptr);

  // Brings a parameter of the selected item into view and puts the keyboard on it.
  void reveal(const std::string& param);
  // Whether all rows are there; a few at a time are made.
  bool isComplete() const;

 Q_SIGNALS:
  // As of ParamRow.
  void valuesWanted(comet::ItemId item, const QString& param);
  // An emitter's shape is to face what the viewport shows, or to fill it.
  void shapeToViewWanted(comet::ItemId emitter, bool fills);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  // A parameter's row, and notes below it, in a box. Made when the parameter first applies.
  struct Entry {
    std::size_t param;
    ParamRow* row = nullptr;
    QWidget* box = nullptr;
  };
  struct Section {
    QString name;
    QToolButton* head;
    QWidget* body;
    bool folded = false;
    std::vector<Entry> entries;
  };

  void rebuild();
  void endTyping();
  void forgetTyping();
  void dropContent();
  // Makes rows that apply and are not there, for as long as a turn of the event loop may take.
  void makeRows();
  void settle();
  // Once all rows are there: scrolls to where it was, or to what is to be revealed.
  void showPlace();
  void refresh();
  void refreshRows(const Item& item);
  // What changes with the frame: keyed values and their marks, formulas.
  void refreshRowsInTime(const Item& item);
  Scene::ItemPtr shownItem() const;
  void addHead(const Item& item, QVBoxLayout& layout);
  // The widgets of an entry, put after those of the entries before it.
  void make(Section& section, Entry& entry, const Item& item);
  // What stands below a parameter.
  std::vector<QWidget*> notesBelow(const Item& item, std::size_t param);
  std::vector<QWidget*> emitterNotes(const Item& item, const std::string& param);
  Section& sectionFor(const std::string& name, QVBoxLayout& layout);
  void fold(Section& section, bool folded);
  struct Problems {
    ItemId item = 0;
    std::string shape, bounds, whole;
  };
  void askProblems(const Scene::ItemPtr& item);
  void showProblems(const Problems& problems);

  Document& document_;
  BackgroundRun* run_;
  QScrollArea* scroll_;
  ItemId shown_ = 0;
  const KindSpec* shownKind_ = nullptr;
  // What is shown; what was shown before lies beside it, hidden, until it is deleted.
  QVBoxLayout* contents_ = nullptr;
  QWidget* content_ = nullptr;
  QTimer making_;
  int scrollTo_ = 0;
  std::string toReveal_;
  bool isStale_ = false;  // another item was selected while this was hidden
  std::vector<Section> sections_;
  QLineEdit* name_ = nullptr;
  QToolButton* enabled_ = nullptr;
  NoteLabel* shapeProblem_ = nullptr;
  NoteLabel* boundsProblem_ = nullptr;
  NoteLabel* itemProblem_ = nullptr;
  BackgroundAnswer<Problems> problems_;
};

}  // namespace comet
