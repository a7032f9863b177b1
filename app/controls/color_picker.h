// A colour in three scrubbed fields and a field of shades, as a small panel that floats beside what it
// belongs to.
#pragma once

#include "base/vec.h"

#include <QWidget>

namespace comet {

class NumberField;

// Linear light to the colour that a screen shows, and back.
QColor screenColor(const Vec3d& linear);
Vec3d linearColor(const QColor& screen);

class ColorPicker : public QWidget {
  Q_OBJECT

 public:
  explicit ColorPicker(QWidget* parent = nullptr);

  void setColor(const Vec3d& linear);
  // Where on a gradient the colour is, 0 to 1.
  void setPosition(double share);

 Q_SIGNALS:
  void edited(const Vec3d& linear);
  void positionEdited(double share);
  void finished();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;

 private:
  QRect shades() const;
  QRect hues() const;
  void pick(const QPoint& position);
  void offer();
  void showFields();

  double hue_ = 0, saturation_ = 0, value_ = 1;
  double brightness_ = 1;  // 1 or more; the colour is multiplied with it
  enum class Grip { None, Shades, Hues } airDrag_ = Grip::None;
  NumberField* hueField_;
  NumberField* saturationField_;
  NumberField* valueField_;
  NumberField* brightnessField_;
  NumberField* positionField_;
};

}  // namespace comet
