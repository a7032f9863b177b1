// A colour as hue, saturation and value, as red, green and blue, or as hex digits, beside an area to pick
// from: a small panel that floats beside what it belongs to.
#pragma once

#include "base/vec.h"

#include <QAbstractButton>
#include <QWidget>

class QHBoxLayout;
class QLineEdit;
class QVBoxLayout;

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
  // Where on a gradient the colour is, 0 to 1; without one there is no field for it.
  void setPosition(double fraction);
  // Below a rectangle of the screen, or above it where the screen ends before.
  void showBeside(const QRect& anchor);

 Q_SIGNALS:
  void edited(const Vec3d& linear);
  void positionEdited(double fraction);
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
  NumberField* addField(QHBoxLayout& row, const char* name, const QString& prefix, double max);
  static QHBoxLayout* addRow(QVBoxLayout& column);
  void addHueFields(QVBoxLayout& column);
  void addLightFields(QVBoxLayout& column);
  void addHexRow(QVBoxLayout& column);
  Vec3d linear() const;
  void takeHex();

  double hue_ = 0, saturation_ = 0, value_ = 1;
  double brightness_ = 1;  // 1 or more; the colour is multiplied with it
  enum class Grip { None, Shades, Hues } grip_ = Grip::None;
  NumberField* hueField_;
  NumberField* saturationField_;
  NumberField* valueField_;
  NumberField* lightFields_[3];
  QLineEdit* hexField_;
  NumberField* brightnessField_;
  NumberField* positionField_;
};

// Shows a colour; a click opens the picker.
class ColorSwatch : public QAbstractButton {
  Q_OBJECT

 public:
  explicit ColorSwatch(QWidget* parent = nullptr);

  void setColor(const Vec3d& linear);

 Q_SIGNALS:
  void edited(const Vec3d& linear);
  void finished();

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  Vec3d color_{0.0};
  ColorPicker* picker_;
};

}  // namespace comet
