#include "life_chart/life_axis.h"

#include "controls/typed_number.h"
#include "theme/theme.h"

#include <QPainter>
#include <cmath>

namespace comet {
namespace {

constexpr int kAxisHeight = 17;

// In less, seconds stand at every other mark only, or labels would meet.
constexpr double kWideEnough = 420;

}  // namespace

LifeAxis::LifeAxis(QWidget* parent) : QWidget(parent) {
  setFixedHeight(kAxisHeight);
  setToolTip(tr("The fraction of the lifetime, and the age of a particle of average lifetime."));
}

void LifeAxis::setLifetime(double seconds) {
  lifetime_ = seconds;
  update();
}

void LifeAxis::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setFont(theme::font(10));
  const double width = this->width() - 2 * kChartMargin;
  for (int quarter = 0; quarter <= 4; ++quarter) {
    const double x = kChartMargin + width * quarter / 4;
    painter.setPen(theme::kQuietText);
    painter.drawLine(QPointF(x, kAxisHeight - 4), QPointF(x, kAxisHeight));
    QString label = tr("%1 %").arg(25 * quarter);
    const bool hasRoom = quarter % 2 == 0 || width >= kWideEnough;
    if (lifetime_ > 0 && hasRoom)
      label += tr(" · %1 s").arg(textFromNumber(std::round(lifetime_ * quarter * 25) / 100));
    constexpr double kBox = 120;
    const auto align = quarter == 0 ? Qt::AlignLeft : quarter == 4 ? Qt::AlignRight : Qt::AlignHCenter;
    const double left = quarter == 0 ? x : quarter == 4 ? x - kBox : x - kBox / 2;
    painter.drawText(QRectF(left, 0, kBox, kAxisHeight - 4), align | Qt::AlignVCenter, label);
  }
}

}  // namespace comet
