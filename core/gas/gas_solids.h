// What is solid in a gas's box: walls and obstacles, and how they move.
//
// A face that an obstacle cuts is open in a fraction of its area (Batty, Bertails and Bridson 2007), so that
// slopes are smooth to the gas and not made of steps.
#pragma once

#include "gas/gas_grid.h"

#include <functional>

namespace comet {

struct GasSolids {
  // Of each face: the fraction of its area that gas can pass through, 0 to 1. Closed walls have none.
  std::array<GasChannel, 3> open;
  // Of each face: how fast what covers the rest of it moves across it, units per second.
  GasVelocity velocity;
};

// The walls of the box, and nothing in it.
GasSolids wallsOnly(const GasGrid& grid);

// The walls and an obstacle. `distance` is to its surface, negative inside, units; `velocity` is that of its
// points. Both are asked from several threads.
GasSolids solidsOf(const GasGrid& grid, const std::function<double(const Vec3d& position)>& distance,
                   const std::function<Vec3d(const Vec3d& position)>& velocity);

// The fraction of a square in which a distance is positive, given its values at the corners in their order
// around it: the area of the polygon that linear edges cut off.
double positiveFraction(const std::array<double, 4>& corners);

}  // namespace comet
