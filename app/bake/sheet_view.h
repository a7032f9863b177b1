// A baked sheet with the lines of its cells and their frames. The wheel zooms down to pixels, a drag moves
// it.
#pragma once

#include "bake/bake_run.h"
#include "bake/sheet_look.h"
#include "controls/picture_zoom.h"

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

  // For tests: where a cell lies, in the coordinates of this widget.
  QRectF cellRect(int cell) const;
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
  double scale() const { return zoom_.factor() * fittingScale(); }
  QRectF fitting() const;
  QPointF origin() const;
  void zoomAt(const QPointF& place, double factor);
  // Of a cell whose picture begins at this pixel of the sheet.
  QRectF boxAt(int x, int y) const;
  std::optional<int> cellAt(const QPointF& place) const;
  void drawCells(QPainter& painter) const;

  std::shared_ptr<const BakedSheet> sheet_;
  SheetLook look_;
  QImage image_;  // as it is looked at; made when it is drawn
  int cell_ = 0;
  std::vector<int> marked_;
  PictureZoom zoom_;
  QPointF pressedAt_;
  QPointF shiftAtPress_;
  bool isMoved_ = false;
};

}  // namespace comet
