// One cell of a variant after the other, at the game's rate: as they are, laid over each other, and moved
// along their motion vectors, side by side.
#pragma once

#include "bake/bake_run.h"
#include "bake/sheet_look.h"

#include <QElapsedTimer>
#include <QWidget>
#include <memory>

namespace comet {

class CellPlayer : public QWidget {
  Q_OBJECT

 public:
  explicit CellPlayer(QWidget* parent = nullptr);

  void setSheet(std::shared_ptr<const BakedSheet> sheet);
  void setGround(Ground ground);
  // All ways of blending side by side, instead of the cells alone.
  void setCompares(bool compares);
  void setPlaying(bool playing);
  bool isPlaying() const { return timer_ != 0; }
  void setCell(int cell);

 Q_SIGNALS:
  void cellShown(int cell);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void timerEvent(QTimerEvent* event) override;

 private:
  std::vector<CellBlend> panes() const;
  void drawPane(QPainter& painter, const QRectF& box, CellBlend blend) const;
  void showTime(double seconds);

  std::shared_ptr<const BakedSheet> sheet_;
  Ground ground_ = Ground::Checker;
  bool compares_ = false;
  std::size_t variant_ = 0;
  double seconds_ = 0;  // of playing it
  int cell_ = -1;
  int timer_ = 0;
  QElapsedTimer clock_;
};

}  // namespace comet
