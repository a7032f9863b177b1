// A bar for each cell: how much is to be seen in it, and how much it changes until the next one; the step
// from the last to the first stands apart.
#pragma once

#include "bake/bake_run.h"

#include <QWidget>
#include <memory>

namespace comet {

class CellPlot : public QWidget {
  Q_OBJECT

 public:
  explicit CellPlot(QWidget* parent = nullptr);

  void setSheet(std::shared_ptr<const BakedSheet> sheet);
  void setCell(int cell);

 Q_SIGNALS:
  void cellChosen(int cell);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  bool event(QEvent* event) override;

 private:
  QRectF bars() const;
  int cellAt(double x) const;

  std::shared_ptr<const BakedSheet> sheet_;
  int cell_ = 0;
};

}  // namespace comet
