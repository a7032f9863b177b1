// What the bake check found, each with its remedy. While the pointer is over the list its rows keep their
// places, so that after one remedy the next is where the hand expects it: what is fixed is ticked, what is
// new comes below. When the pointer leaves, only what is still found is listed.
#pragma once

#include "bake/bake_run.h"

#include <QScrollArea>
#include <memory>
#include <vector>

class QVBoxLayout;

namespace comet {

class CheckRow;

class CheckList : public QScrollArea {
  Q_OBJECT

 public:
  explicit CheckList(QWidget* parent = nullptr);

  void setSheet(const std::shared_ptr<const BakedSheet>& sheet);

 Q_SIGNALS:
  // The cells of a finding are to be shown.
  void chosen(const std::vector<int>& cells);
  void remedyWanted(const comet::Remedy& remedy);

 protected:
  void leaveEvent(QEvent* event) override;

 private:
  void listFindings();
  // Shows the findings in the rows that are there.
  void updateRows();
  void addRow(const Finding& finding);

  std::shared_ptr<const BakedSheet> sheet_;
  QVBoxLayout* layout_ = nullptr;
  std::vector<CheckRow*> rows_;  // owned by the area's widget
  bool keepsPlaces_ = false;     // the rows are those of an earlier sheet
};

}  // namespace comet
