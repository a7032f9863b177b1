#include "controls/curve_field.h"

#include "controls/curve_lane.h"
#include "controls/curve_preset_bar.h"

#include <QVBoxLayout>

namespace comet {

CurveField::CurveField(QWidget* parent)
    : QWidget(parent), lane_(new CurveLane), presets_(new CurvePresetBar) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(2);
  column->addWidget(lane_);
  column->addWidget(presets_);
  presets_->hide();
  setFocusProxy(lane_);
  connect(lane_, &CurveLane::pressed, this, [this] {
    lane_->setOpen(true);
    presets_->show();
  });
  connect(lane_, &CurveLane::edited, this, &CurveField::edited);
  connect(lane_, &CurveLane::finished, this, &CurveField::finished);
  presets_->follow(lane_);
  connect(presets_, &CurvePresetBar::chosen, this, [this](const Curve& curve) {
    Q_EMIT edited(curve);
    Q_EMIT finished();
  });
}

void CurveField::setCurve(const Curve& curve) { lane_->setCurve(curve); }

}  // namespace comet
