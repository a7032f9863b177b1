#include "controls/color_picker.h"

#include "base/gradient.h"
#include "controls/number_field.h"
#include "theme/theme.h"

#include <QGuiApplication>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QScreen>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr double kBrightest = 1e4;  // as the schema allows

}  // namespace

QColor screenColor(const Vec3d& linear) {
  const auto channel = [](double value) {
    return static_cast<float>(std::clamp(encodeSrgb(value), 0.0, 1.0));
  };
  return QColor::fromRgbF(channel(linear.x), channel(linear.y), channel(linear.z));
}

Vec3d linearColor(const QColor& screen) {
  return {decodeSrgb(screen.redF()), decodeSrgb(screen.greenF()), decodeSrgb(screen.blueF())};
}

ColorPicker::ColorPicker(QWidget* parent) : QWidget(parent, Qt::Popup) {
  setFixedSize(236, 266);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 8, 8, 8);
  column->setSpacing(4);
  column->setAlignment(Qt::AlignBottom);
  addHueFields(*column);
  addLightFields(*column);
  addHexRow(*column);
}

NumberField* ColorPicker::addField(QHBoxLayout& row, const char* name, const QString& prefix, double max) {
  auto* field = new NumberField(this);
  field->setObjectName(name);
  field->setPrefix(prefix);
  field->setRange(0, max);
  field->setUsualRange(0, max);
  row.addWidget(field);
  connect(field, &NumberField::finished, this, &ColorPicker::finished);
  return field;
}

QHBoxLayout* ColorPicker::addRow(QVBoxLayout& column) {
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  column.addLayout(row);
  return row;
}

void ColorPicker::addHueFields(QVBoxLayout& column) {
  QHBoxLayout* row = addRow(column);
  hueField_ = addField(*row, "hue", tr("Hue"), 359);
  saturationField_ = addField(*row, "saturation", tr("Sat"), 100);
  valueField_ = addField(*row, "color_value", tr("Val"), 100);
  const auto sets = [this](NumberField* field, double* part, double whole) {
    connect(field, &NumberField::edited, this, [this, part, whole](double shown) {
      *part = shown / whole;
      showFields();
      offer();
    });
  };
  sets(hueField_, &hue_, 360);
  sets(saturationField_, &saturation_, 100);
  sets(valueField_, &value_, 100);
}

void ColorPicker::addLightFields(QVBoxLayout& column) {
  QHBoxLayout* row = addRow(column);
  for (int channel = 0; channel < 3; ++channel) {
    const QString letter("RGB"[channel]);
    NumberField* field = addField(*row, letter.toLower().toLatin1(), letter, kBrightest);
    field->setUsualRange(0, 1);
    field->setToolTip(tr("Linear light; above 1 it is brighter than white."));
    lightFields_[channel] = field;
    connect(field, &NumberField::edited, this, [this, channel](double light) {
      Vec3d color = linear();
      color[channel] = light;
      setColor(color);
      Q_EMIT edited(color);
    });
  }
}

void ColorPicker::addHexRow(QVBoxLayout& column) {
  QHBoxLayout* row = addRow(column);
  hexField_ = new QLineEdit(this);
  hexField_->setObjectName("hex");
  hexField_->setFixedHeight(theme::kRowHeight);
  hexField_->setToolTip(tr("The colour as on the web, such as #ff8040."));
  row->addWidget(hexField_);
  connect(hexField_, &QLineEdit::editingFinished, this, &ColorPicker::takeHex);
  brightnessField_ = addField(*row, "stop_brightness", "×", kBrightest);
  brightnessField_->setRange(1, kBrightest);
  brightnessField_->setUsualRange(1, 10);
  brightnessField_->setToolTip(
      tr("Multiplies the colour; above 1 it is brighter than white, for light that glows."));
  connect(brightnessField_, &NumberField::edited, this, [this](double brightness) {
    brightness_ = brightness;
    showFields();
    offer();
  });
  positionField_ = addField(*row, "stop_position", tr("at"), 100);
  positionField_->setUnit("%");
  positionField_->hide();
  connect(positionField_, &NumberField::edited, this,
          [this](double percent) { Q_EMIT positionEdited(percent / 100); });
}

void ColorPicker::takeHex() {
  QString digits = hexField_->text().trimmed();
  if (!digits.startsWith('#')) digits.prepend('#');
  const QColor color(digits);
  const bool isChanged = color.isValid() && color != screenColor(linear() / brightness_);
  if (!isChanged) return showFields();
  setColor(brightness_ * linearColor(color));
  offer();
  Q_EMIT finished();
}

void ColorPicker::setPosition(double fraction) {
  positionField_->show();
  positionField_->setValue(fraction * 100);
}

void ColorPicker::setColor(const Vec3d& linear) {
  // Beyond white, the brightness is apart from the colour.
  brightness_ = std::max({1.0, linear.x, linear.y, linear.z});
  const QColor color = screenColor(linear / brightness_);
  if (color.hueF() >= 0) hue_ = color.hueF();
  saturation_ = color.saturationF();
  value_ = color.valueF();
  showFields();
}

Vec3d ColorPicker::linear() const {
  return brightness_ * linearColor(QColor::fromHsvF(static_cast<float>(hue_), static_cast<float>(saturation_),
                                                    static_cast<float>(value_)));
}

void ColorPicker::showFields() {
  hueField_->setValue(std::round(hue_ * 360));
  saturationField_->setValue(std::round(saturation_ * 100));
  valueField_->setValue(std::round(value_ * 100));
  const Vec3d color = linear();
  // Finer than the screen's steps, and without what the way there and back rounds.
  for (int channel = 0; channel < 3; ++channel)
    lightFields_[channel]->setValue(std::round(color[channel] * 1e4) / 1e4);
  hexField_->setText(screenColor(color / brightness_).name());
  brightnessField_->setValue(brightness_);
  update();
}

void ColorPicker::showBeside(const QRect& anchor) {
  const QRect room = QGuiApplication::screenAt(anchor.center())
                         ? QGuiApplication::screenAt(anchor.center())->availableGeometry()
                         : screen()->availableGeometry();
  QPoint corner(anchor.center().x() - width() / 2, anchor.bottom() + 2);
  if (corner.y() + height() > room.bottom()) corner.setY(anchor.top() - height() - 2);
  corner.setX(std::clamp(corner.x(), room.left(), std::max(room.left(), room.right() - width())));
  move(corner);
  show();
}

QRect ColorPicker::shades() const { return {8, 8, width() - 16, 130}; }
QRect ColorPicker::hues() const { return {8, 146, width() - 16, 16}; }

void ColorPicker::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme::kRaised);
  painter.setPen(theme::kLine);
  painter.drawRect(rect().adjusted(0, 0, -1, -1));

  QLinearGradient across(shades().topLeft(), shades().topRight());
  across.setColorAt(0, Qt::white);
  across.setColorAt(1, QColor::fromHsvF(static_cast<float>(hue_), 1, 1));
  painter.fillRect(shades(), across);
  QLinearGradient down(shades().topLeft(), shades().bottomLeft());
  down.setColorAt(0, Qt::transparent);
  down.setColorAt(1, Qt::black);
  painter.fillRect(shades(), down);

  QLinearGradient ring(hues().topLeft(), hues().topRight());
  for (int i = 0; i <= 6; ++i)
    ring.setColorAt(i / 6.0, QColor::fromHsvF(static_cast<float>(i % 6 / 6.0), 1, 1));
  painter.fillRect(hues(), ring);

  painter.setRenderHint(QPainter::Antialiasing);
  painter.setBrush(Qt::NoBrush);
  const QPointF shade(shades().left() + saturation_ * shades().width(),
                      shades().top() + (1 - value_) * shades().height());
  painter.setPen(QPen(value_ > 0.6 ? Qt::black : Qt::white, 1.5));
  painter.drawEllipse(shade, 5, 5);
  painter.setPen(QPen(Qt::black, 1.5));
  painter.drawRect(
      QRectF(hues().left() + hue_ * hues().width() - 2, hues().top() - 1, 4, hues().height() + 2));
}

void ColorPicker::mousePressEvent(QMouseEvent* event) {
  if (!rect().contains(event->pos())) {
    hide();
    return;
  }
  grip_ = shades().contains(event->pos()) ? Grip::Shades
          : hues().contains(event->pos()) ? Grip::Hues
                                          : Grip::None;
  pick(event->pos());
}

void ColorPicker::mouseMoveEvent(QMouseEvent* event) { pick(event->pos()); }

void ColorPicker::mouseReleaseEvent(QMouseEvent*) {
  if (grip_ != Grip::None) Q_EMIT finished();
  grip_ = Grip::None;
}

void ColorPicker::pick(const QPoint& position) {
  const auto fraction = [](double x, double from, double size) {
    return std::clamp((x - from) / size, 0.0, 1.0);
  };
  if (grip_ == Grip::None) return;
  if (grip_ == Grip::Hues) {
    hue_ = std::min(0.999, fraction(position.x(), hues().left(), hues().width()));
  } else {
    saturation_ = fraction(position.x(), shades().left(), shades().width());
    value_ = 1 - fraction(position.y(), shades().top(), shades().height());
  }
  showFields();
  offer();
}

void ColorPicker::offer() {
  update();
  Q_EMIT edited(linear());
}

ColorSwatch::ColorSwatch(QWidget* parent) : QAbstractButton(parent), picker_(new ColorPicker(this)) {
  setFixedSize(theme::kRowHeight, theme::kRowHeight);
  setFocusPolicy(Qt::StrongFocus);
  setToolTip(tr("Click to pick the colour."));
  connect(this, &QAbstractButton::clicked, this, [this] {
    picker_->setColor(color_);
    picker_->showBeside({mapToGlobal(QPoint()), size()});
  });
  connect(picker_, &ColorPicker::edited, this, &ColorSwatch::edited);
  connect(picker_, &ColorPicker::finished, this, &ColorSwatch::finished);
}

void ColorSwatch::setColor(const Vec3d& linear) {
  color_ = linear;
  update();
}

void ColorSwatch::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setPen(hasFocus() || underMouse() ? theme::kAccent : theme::kLine);
  painter.setBrush(screenColor(color_ / std::max({1.0, color_.x, color_.y, color_.z})));
  painter.drawRoundedRect(QRectF(rect()).adjusted(2.5, 2.5, -2.5, -2.5), theme::kRadius, theme::kRadius);
}

}  // namespace comet
