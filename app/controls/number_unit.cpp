#include "controls/number_unit.h"

#include "theme/words.h"

#include <algorithm>

namespace comet {
namespace {

const QStringList kFrames{"frames", "frame", "f"};
const QStringList kSeconds{"seconds", "sec", "s"};

NumberUnits inOrder(const NumberUnit& frames, const NumberUnit& seconds, bool secondsFirst) {
  return secondsFirst ? NumberUnits{seconds, frames} : NumberUnits{frames, seconds};
}

}  // namespace

NumberUnits plainUnit(const QString& unit) {
  return {{unit, unit.isEmpty() ? QStringList() : QStringList(unit), 1, 0}};
}

NumberUnits momentUnits(const Scene& scene, TimeDisplay display) {
  return inOrder({"", kFrames, 1, 0},
                 {"s", kSeconds, frameRate(scene), static_cast<double>(frameRange(scene).first)},
                 display == TimeDisplay::Seconds);
}

NumberUnits frameCountUnits(const Scene& scene, TimeDisplay display) {
  return inOrder({"frames", kFrames, 1, 0}, {"s", kSeconds, frameRate(scene), 0},
                 display == TimeDisplay::Seconds);
}

NumberUnits unitsOf(const ParamSpec& spec, const Scene& scene, TimeDisplay display) {
  if (spec.isFrame) return momentUnits(scene, display);
  if (spec.unitText == "frames") return frameCountUnits(scene, display);
  if (spec.unitText == "s")
    return inOrder({"frames", kFrames, 1 / frameRate(scene), 0}, {"s", kSeconds, 1, 0},
                   display != TimeDisplay::Frames);
  return plainUnit(text(spec.unitText));
}

NumberUnits withoutOffset(NumberUnits units) {
  for (NumberUnit& unit : units) unit.offset = 0;
  return units;
}

}  // namespace comet
