// Units in which numbers are shown and typed. Times are shown in frames or in seconds as the user chose, and
// typed in both.
#pragma once

#include "params/schema.h"
#include "scene/scene.h"
#include "session/time_display.h"

#include <QStringList>
#include <vector>

namespace comet {

// stored = offset + scale * shown
struct NumberUnit {
  QString shown;        // behind the number; may be empty
  QStringList spelled;  // what may be typed behind it
  double scale = 1;
  double offset = 0;

  double shownFrom(double stored) const { return (stored - offset) / scale; }
  double storedFrom(double shownNumber) const { return offset + scale * shownNumber; }
  bool operator==(const NumberUnit&) const = default;
};

// Those that one number may be typed in; the first is the one that it is shown in.
using NumberUnits = std::vector<NumberUnit>;

NumberUnits plainUnit(const QString& unit);
// Of a moment that is kept as a frame, and of a length that is kept in frames.
NumberUnits momentUnits(const Scene& scene, TimeDisplay display);
NumberUnits frameCountUnits(const Scene& scene, TimeDisplay display);
NumberUnits unitsOf(const ParamSpec& spec, const Scene& scene, TimeDisplay display);
// For a difference, such as a variation.
NumberUnits withoutOffset(NumberUnits units);

}  // namespace comet
