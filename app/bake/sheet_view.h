// A baked sheet with the lines of its cells and their frames. The wheel zooms down to pixels, a drag moves
// it.
#pragma once

#include "bake/bake_run.h"
#include "bake/sheet_look.h"

#include <QImage>
#include <QWidget>
#include <memory>
#include <optional>

namespace comet {

class SheetView : public QWidget {
  Q_OBJECT

 public:
  explicit SheetView(QWidget* parent = nullptr);

  void setSheet(std::shared_ptr<const BakedSheet> sheet);
  void setLook(const SheetLook& look);
  // Marks the cell that is playing.
  void setCell(int cell);
  // Marks what a check found.
  void setMarked(const std::vector<int>& cells);
  // The whole sheet, as large as it fits.
  void showAll();

 Q_SIGNALS:
  void cellChosen(int cell);
  // What lies under the pointer; empty if nothing does.
  void hovered(const QString& text);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void leaveEvent(QEvent* event) override;
  bool event(QEvent* event) override;

 private:
  double fittingScale() const;
  double scale() const { return zoom_ * fittingScale(); }
  QPointF origin() const;
  void zoomAt(const QPointF& place, double factor);
  QRectF cellRect(int cell) const;
  std::optional<int> cellAt(const QPointF& place) const;
  void drawCells(QPainter& painter) const;

  std::shared_ptr<const BakedSheet> sheet_;
  SheetLook look_;
  QImage image_;  // as it is looked at; made when it is drawn
  int cell_ = 0;
  std::vector<int> marked_;
  double zoom_ = 1;  // times the scale at which all of it is seen
  QPointF shift_;    // of the sheet's middle from the widget's
  QPointF pressedAt_;
  QPointF shiftAtPress_;
  bool isMoved_ = false;
};

}  // namespace comet
