// Courses over life by their shape, to start from.
#pragma once

#include "base/curve.h"

#include <QIcon>
#include <QString>
#include <optional>
#include <vector>

namespace comet {

struct CurvePreset {
  QString id;
  QString name;
  Curve curve;
};

const std::vector<CurvePreset>& curvePresets();

// Those that the user kept, and remembers from one day to the next.
std::vector<Curve> ownCurvePresets();
void setOwnCurvePresets(const std::vector<Curve>& curves);

// A curve as in a scene file; nothing if a text is none.
QString textFromCurve(const Curve& curve);
std::optional<Curve> curveFromText(const QString& text);

// The curve as a small drawing.
QIcon curveIcon(const Curve& curve);

}  // namespace comet
