#include "simulation/emission/births_outlook.h"

#include "scene/item_reference.h"
#include "simulation/frame/cycles.h"

#include <algorithm>

namespace comet {
namespace {

std::string reasonForNone(const Scene& scene, const Item& emitter, const BirthsOutlook& outlook,
                          double frame) {
  if (!emitter.enabled) return "no births: it is turned off";
  if (emitter.chooses("birth_trigger", "rules") && sourceNames(scene, emitter).empty())
    return "no births: no rule gives any";
  if (outlook.isChild && sourceNames(scene, emitter).empty())
    return "no births: choose whose particles they come from";
  // What is wrong with the shape is said beside it.
  if (!problemWithShape(emitter, frame).empty()) return "no births: see Shape";
  if (outlook.isChild || outlook.births() > 0) return {};
  return emitter.chooses("emits", "frame_range")
             ? "no births in the scene's frames: see Emits, Rate and Bursts"
             : "no births: raise the rate, or add a burst";
}

}  // namespace

double BirthsOutlook::births() const {
  double sum = 0;
  for (const ExpectedBirths& frame : perFrame) sum += frame.all();
  return sum;
}

double BirthsOutlook::peak() const {
  return living.empty() ? 0 : *std::max_element(living.begin(), living.end());
}

BirthsOutlook birthsOutlook(const Scene& scene, const Item& emitter, double frame) {
  BirthsOutlook outlook;
  outlook.isChild = !emitter.chooses("birth_trigger", "own");
  const FrameRange range = frameRange(scene);
  const double rate = frameRate(scene);
  outlook.perFrame = expectedBirths(emitter, range, rate);
  outlook.living = expectedLiving(emitter, range, rate, loops(scene));
  outlook.none = reasonForNone(scene, emitter, outlook, frame);
  return outlook;
}

}  // namespace comet
