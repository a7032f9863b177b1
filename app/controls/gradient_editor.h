// A colour gradient with its stops: drag a stop to move it, click it for its colour, double-click the bar for
// a new one, Delete or right-click to remove it.
#pragma once

#include "base/gradient.h"

#include <QWidget>

namespace comet {

class ColorPicker;

class GradientEditor : public QWidget {
  Q_OBJECT

 public:
  explicit GradientEditor(QWidget* parent = nullptr);

  // `mix` is how colours between stops are made.
  void setGradient(const Gradient& gradient, ColorMix mix = ColorMix::Linear);
  const Gradient& gradient() const { return gradient_; }
  // The middle of a stop's mark, in the widget.
  QPointF placeOfStop(std::size_t stop) const {
    return {xOf(gradient_.stops()[stop].position), bar().bottom() + 6};
  }

 Q_SIGNALS:
  void edited(const Gradient& gradient);
  void finished();

 protected:
  bool event(QEvent* event) override;
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QRectF bar() const;
  double xOf(double position) const;
  double positionAt(double x) const;
  int stopAt(const QPoint& position) const;  // -1 for none
  void removeStop(int stop);
  void offer(std::vector<GradientStop> stops);
  void showPicker(int stop);

  Gradient gradient_;
  ColorMix mix_ = ColorMix::Linear;
  ColorPicker* picker_;
  int active_ = 0;
  bool pressed_ = false;
  bool moved_ = false;
};

}  // namespace comet
