#include "controls/color_picker.h"

#include "base/gradient.h"
#include "controls/number_field.h"
#include "theme/theme.h"

#include <QHBoxLayout>
#include <QMouseEvent>
#include <QPainter>
#include <QVBoxLayout>
#include <algorithm>

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
  setFixedSize(236, 234);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 8, 8, 8);
  column->setSpacing(4);
  column->setAlignment(Qt::AlignBottom);
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  column->addLayout(row);
  const auto addField = [&](const QString& prefix, double most) {
    auto* field = new NumberField(this);
    field->setPrefix(prefix);
    field->setRange(0, most);
    field->setUsualRange(0, most);
    row->addWidget(field);
    connect(field, &NumberField::edited, this, [this] {
      hue_ = hueField_->value() / 360;
      saturation_ = saturationField_->value() / 100;
      value_ = valueField_->value() / 100;
      brightness_ = brightnessField_->value();
      offer();
    });
    connect(field, &NumberField::finished, this, &ColorPicker::finished);
    return field;
  };
  hueField_ = addField(tr("Hue"), 359);
  saturationField_ = addField(tr("Sat"), 100);
  valueField_ = addField(tr("Val"), 100);
  row = new QHBoxLayout;
  row->setSpacing(4);
  column->addLayout(row);
  brightnessField_ = addField("×", kBrightest);
  brightnessField_->setObjectName("stop_brightness");
  brightnessField_->setRange(1, kBrightest);
  brightnessField_->setUsualRange(1, 10);
  brightnessField_->setToolTip(
      tr("Multiplies the colour; above 1 it is brighter than white, for light that glows"));
  positionField_ = new NumberField(this);
  positionField_->setObjectName("stop_position");
  positionField_->setPrefix(tr("at"));
  positionField_->setUnit("%");
  positionField_->setRange(0, 100);
  positionField_->setUsualRange(0, 100);
  row->addWidget(positionField_);
  connect(positionField_, &NumberField::edited, this,
          [this](double percent) { Q_EMIT positionEdited(percent / 100); });
  connect(positionField_, &NumberField::finished, this, &ColorPicker::finished);
}

void ColorPicker::setPosition(double share) { positionField_->setValue(share * 100); }

void ColorPicker::setColor(const Vec3d& linear) {
  // Beyond white, the brightness is apart from the colour.
  brightness_ = std::max({1.0, linear.x, linear.y, linear.z});
  const QColor color = screenColor(linear / brightness_);
  if (color.hueF() >= 0) hue_ = color.hueF();
  saturation_ = color.saturationF();
  value_ = color.valueF();
  showFields();
}

void ColorPicker::showFields() {
  hueField_->setValue(hue_ * 360);
  saturationField_->setValue(saturation_ * 100);
  valueField_->setValue(value_ * 100);
  brightnessField_->setValue(brightness_);
  update();
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
  airDrag_ = shades().contains(event->pos()) ? Grip::Shades
             : hues().contains(event->pos()) ? Grip::Hues
                                             : Grip::None;
  pick(event->pos());
}

void ColorPicker::mouseMoveEvent(QMouseEvent* event) { pick(event->pos()); }

void ColorPicker::mouseReleaseEvent(QMouseEvent*) {
  if (airDrag_ != Grip::None) Q_EMIT finished();
  airDrag_ = Grip::None;
}

void ColorPicker::pick(const QPoint& position) {
  const auto share = [](double x, double from, double size) {
    return std::clamp((x - from) / size, 0.0, 1.0);
  };
  if (airDrag_ == Grip::None) return;
  if (airDrag_ == Grip::Hues) {
    hue_ = std::min(0.999, share(position.x(), hues().left(), hues().width()));
  } else {
    saturation_ = share(position.x(), shades().left(), shades().width());
    value_ = 1 - share(position.y(), shades().top(), shades().height());
  }
  showFields();
  offer();
}

void ColorPicker::offer() {
  update();
  Q_EMIT edited(brightness_ *
                linearColor(QColor::fromHsvF(static_cast<float>(hue_), static_cast<float>(saturation_),
                                             static_cast<float>(value_))));
}

}  // namespace comet
