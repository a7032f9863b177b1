// The rounds of scenes that loop.
#pragma once

#include "scene/scene.h"

namespace comet {

bool loops(const Scene& scene);

// Seconds after which the scene repeats; 0 for never.
double loopPeriod(const Scene& scene);

// The nearest rate at which something goes through whole rounds of its own in `period` seconds, at least one;
// `rate` itself for a period of 0, or if it stands still.
double wholeCycles(double rate, double period);
// How many rounds those are, at least one.
double cyclesOf(double rate, double period);

}  // namespace comet
