// Lines drawn by hand in the scene's space, such as ways that particles follow.
#pragma once

#include "base/vec.h"

#include <vector>

namespace comet {

// Runs through its points in their order, the way it was drawn. At least kFewestStrokePoints.
using Stroke = std::vector<Vec3d>;
using StrokeList = std::vector<Stroke>;

constexpr std::size_t kFewestStrokePoints = 2;

// A point of a smoothed stroke, and which way the stroke goes there (of length one).
struct StrokeSpot {
  Vec3d at{0.0};
  Vec3d direction{0.0};
};

// The stroke as a chain of short straight pieces: a Catmull-Rom course through its points (Catmull & Rom,
// 1974), `pieces` to each span. `closes`: the last point leads on to the first.
std::vector<StrokeSpot> smoothed(const Stroke& stroke, int pieces, bool closes = false);

// As few of the stroke's points as keep it within `tolerance` of where it was, its ends among them.
// Method: Douglas & Peucker, "Algorithms for the Reduction of the Number of Points Required to Represent a
// Digitized Line or its Caricature", 1973.
Stroke simplified(const Stroke& stroke, double tolerance);

}  // namespace comet
