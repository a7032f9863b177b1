// A baked sheet with the lines of its cells and their frames.
#pragma once

#include "bake/bake_run.h"

#include <QImage>
#include <QWidget>
#include <memory>

namespace comet {

class SheetView : public QWidget {
  Q_OBJECT

 public:
  explicit SheetView(QWidget* parent = nullptr);

  void setSheet(std::shared_ptr<const BakedSheet> sheet);
  // Marks the cell that is playing.
  void setCell(int cell);

 Q_SIGNALS:
  void cellChosen(int cell);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;

 private:
  double scale() const;
  QRectF cellRect(int cell) const;
  QPointF origin() const;

  std::shared_ptr<const BakedSheet> sheet_;
  QImage image_;
  int cell_ = 0;
};

// One cell after the other, at the rate of the sheet.
class CellPlayer : public QWidget {
  Q_OBJECT

 public:
  explicit CellPlayer(QWidget* parent = nullptr);

  void setSheet(std::shared_ptr<const BakedSheet> sheet);
  void setPlaying(bool playing);
  void setCell(int cell);

 Q_SIGNALS:
  void cellShown(int cell);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void timerEvent(QTimerEvent* event) override;

 private:
  std::shared_ptr<const BakedSheet> sheet_;
  QImage image_;
  int cell_ = 0;
  int timer_ = 0;
};

}  // namespace comet
