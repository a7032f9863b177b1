// Variants of one effect in one flipbook: the same frames with other seeds, or with other values of a
// parameter.
#pragma once

#include "scene/sweep.h"

#include <string>
#include <vector>

namespace comet {

struct BakeVariant {
  std::string label;  // as in "Seed +2" or "Rate 40 /s"; empty for the only one
  Scene scene;
};

constexpr int kMaxBakeVariants = 16;

// At least one. Throws Error(Input) for values that the scene cannot take.
std::vector<BakeVariant> bakeVariants(const Scene& scene, const Item& bake);

// Values that an artist may begin with, as they are written: half, now and twice of what matters of each
// emitter.
std::vector<std::string> suggestedVariedValues(const Scene& scene);

// The scene whose first bake, which is made if there is none, makes a variant of each value of the axis.
Scene withVariedBake(const Scene& scene, const SweepAxis& axis);

// The scene with every seed in it raised by so much.
Scene withSeedsRaised(const Scene& scene, int by);

}  // namespace comet
