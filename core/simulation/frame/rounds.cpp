#include "simulation/frame/cycles.h"

#include <algorithm>
#include <cmath>

namespace comet {

bool loops(const Scene& scene) { return scene.settings().flag("exact_loop"); }

double loopPeriod(const Scene& scene) {
  return loops(scene) ? frameRange(scene).count() / frameRate(scene) : 0;
}

double wholeCycles(double rate, double period) {
  return period > 0 && rate != 0 ? std::copysign(cyclesOf(rate, period), rate) / period : rate;
}

double cyclesOf(double rate, double period) { return std::max(1.0, std::round(std::abs(rate) * period)); }

}  // namespace comet
