// What an emitter is expected to give over the scene's frames, before anything is simulated.
#pragma once

#include "scene/scene.h"
#include "simulation/emission/emission.h"

#include <string>
#include <vector>

namespace comet {

struct BirthsOutlook {
  bool isChild = false;                  // births come from other particles: how many cannot be foreseen
  std::vector<ExpectedBirths> perFrame;  // of the range, on average
  std::vector<double> living;            // at each of its frames, on average
  std::string none;  // why it gives no births at all, with the remedy; empty if it gives any

  double births() const;
  double peak() const;  // of the living
};

// At a frame's values. May prepare what is born on, as a mesh: work for a background thread.
BirthsOutlook birthsOutlook(const Scene& scene, const Item& emitter, double frame);

}  // namespace comet
