// Friction on a ball, which slows it down and turns it: while its surface slips, as Coulomb says; once it
// rolls, by the coefficient of rolling friction.
//
// Speeds are as the surface sees them and lie along it, units/s; `normal` points away from it.
#pragma once

#include "base/vec.h"

namespace comet {

struct Ball {
  double radius = 0;  // units; 0 for what does not roll
  Vec3d roll{0.0};    // rad/s about each axis

  bool rolls() const { return radius > 0; }
};

// How fast the ball's surface slips where it touches.
Vec3d slipOf(const Ball& ball, const Vec3d& along, const Vec3d& normal);

// The speed that is left after friction that can take up to `most` of it, and the ball turned to match. Less
// than that is needed to end the slip of a ball that nearly rolls.
Vec3d afterFriction(const Vec3d& along, const Vec3d& normal, double most, Ball& ball);

// The same of a ball that rolls without slip, for rolling friction; it slows the spin on the spot, too.
Vec3d afterRolling(const Vec3d& along, const Vec3d& normal, double most, Ball& ball);

}  // namespace comet
