// What the bake check found, each with its remedy.
#pragma once

#include "bake/bake_run.h"

#include <QScrollArea>
#include <memory>

namespace comet {

class CheckList : public QScrollArea {
  Q_OBJECT

 public:
  explicit CheckList(QWidget* parent = nullptr);

  void setSheet(const std::shared_ptr<const BakedSheet>& sheet);

 Q_SIGNALS:
  // The cells of a finding are to be shown.
  void chosen(const std::vector<int>& cells);
  void remedyWanted(const comet::Remedy& remedy);

 private:
  QWidget* rowOf(const Finding& finding);
};

}  // namespace comet
