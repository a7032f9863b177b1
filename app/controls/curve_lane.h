// A curve over the fraction of life, with the variation's band and the living particles by age behind it.
//
// Drag a point to move it, double-click for another one, right-click or Delete to remove it. Double-click a
// point to change how the curve goes on from it: smooth, straight, holding its value, or free by handles,
// which are dragged as points are; with Alt, a handle leaves the one opposite as it is.
#pragma once

#include "base/curve.h"

#include <QWidget>
#include <optional>
#include <vector>

namespace comet {

class CurveLane : public QWidget {
  Q_OBJECT

 public:
  explicit CurveLane(QWidget* parent = nullptr);

  void setCurve(const Curve& curve);
  const Curve& curve() const { return curve_; }
  // Half the height of the band around the curve, as a fraction of the curve's value.
  void setBand(double fraction);
  // Counts of particles by equal steps of life.
  void setHistogram(const std::vector<int>& counts);
  // Closed lanes show their curve; open ones can be edited.
  void setOpen(bool open);

  // Where a position in the curve is in the widget.
  QPointF place(double x, double y) const;
  QPointF placeOfPoint(std::size_t point) const {
    return place(curve_.points()[point].x, curve_.points()[point].y);
  }

  QSize sizeHint() const override { return {200, open_ ? 46 : 18}; }

 Q_SIGNALS:
  void edited(const Curve& curve);
  void finished();
  void pressed();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QRectF area() const;
  double top() const;  // the value at the upper edge
  // Where the pointer is in the curve, not held within its edges.
  CurvePoint placeUnder(const QPointF& position) const;
  CurvePoint pointUnder(const QPointF& position) const;
  // What the pointer can take hold of: a point, or the end of one of its handles.
  struct Grip {
    int point = -1;  // -1 for none
    std::optional<CurveSide> side;
  };
  Grip gripAt(const QPointF& position) const;
  QPointF handlePlace(std::size_t point, CurveSide side) const;
  void drawHandles(QPainter& painter) const;
  void movePoint(const QPointF& position);
  void offer(std::vector<CurvePoint> points);
  void remove(int point);

  Curve curve_ = Curve::constant(1);
  double band_ = 0;
  std::vector<int> histogram_;
  bool open_ = false;
  Grip active_;
  bool dragging_ = false;
  double dragTop_ = 1;
};

}  // namespace comet
