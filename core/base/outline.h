// A closed outline on a picture: straight between its corners, or rounded through its smooth points.
//
// Coordinates are fractions of the picture, x to the right and y down, (0, 0) its top left corner.
#pragma once

#include "base/vec.h"

#include <vector>

namespace comet {

struct OutlinePoint {
  Vec2d at{0.0};
  bool smooth = false;  // the outline bends through this point instead of turning at it

  bool operator==(const OutlinePoint&) const = default;
};

// Empty: no outline. Otherwise at least kFewestOutlinePoints.
using OutlinePoints = std::vector<OutlinePoint>;

constexpr std::size_t kFewestOutlinePoints = 3;

// The outline as a closed polygon (its last point is joined to its first). Between two smooth points it is a
// Catmull-Rom segment (Catmull & Rom, 1974), cut into straight pieces; at a corner the tangent is zero.
std::vector<Vec2d> polygonOf(const OutlinePoints& outline);

// Whether a point lies inside a closed polygon, by the even-odd rule.
bool isInside(const std::vector<Vec2d>& polygon, const Vec2d& point);

}  // namespace comet
