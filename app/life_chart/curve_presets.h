// Courses over life by their shape, to start from.
#pragma once

#include "base/curve.h"

#include <QIcon>
#include <QString>
#include <vector>

namespace comet {

struct CurvePreset {
  QString id;
  QString name;
  Curve curve;
};

const std::vector<CurvePreset>& curvePresets();

// The curve as a small drawing.
QIcon curveIcon(const Curve& curve);

}  // namespace comet
