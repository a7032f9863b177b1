// A sprite's picture with what is cut out of it: the crop, a mask drawn over it, and the pivot.
//
// Click beside the mask to add a point, drag points and the pivot, double-click a point to round it or make
// it a corner, right-click or Delete to remove it. A mask of fewer than three points is kept here until it
// has three. The wheel with Ctrl, + and - zoom, a drag with the middle button pans, 0 shows all.
#pragma once

#include "controls/picture_zoom.h"
#include "session/document.h"

#include <QImage>
#include <QWidget>

namespace comet {

class MaskEditor : public QWidget {
  Q_OBJECT

 public:
  // For an emitter that exists as long as the editor.
  MaskEditor(Document& document, ItemId emitter, QWidget* parent = nullptr);

  void refresh();

  // Where a fraction of the picture is in the widget; for tests too.
  QPointF place(const Vec2d& fraction) const;
  QPointF pivotPlace() const;

  QSize sizeHint() const override { return {240, 190}; }

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  bool event(QEvent* event) override;

 private:
  enum class Grip { None, Point, Pivot, Picture };

  Scene::ItemPtr item() const;
  // Within the frame, and where the picture is that is seen whole.
  QRectF room() const;
  QRectF fitting() const;
  QRectF pictureRect() const { return zoom_.placed(fitting()); }
  void zoomAt(const QPointF& position, double by);
  // The part that the crop leaves, as fractions of the picture.
  QRectF cropped() const;
  Vec2d fractionAt(const QPointF& position) const;
  int pointAt(const QPointF& position) const;  // -1 for none
  void offer(const OutlinePoints& points);
  void movePivot(const QPointF& position);
  void removePoint(int point);
  QString note() const;

  Document& document_;
  ItemId emitter_;
  OutlinePoints points_;
  Digest shown_;
  QImage image_;
  Grip grip_ = Grip::None;
  int active_ = -1;
  PictureZoom zoom_;
  QPointF dragged_;  // where the picture was taken hold of last
};

}  // namespace comet
