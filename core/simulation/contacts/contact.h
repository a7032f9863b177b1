// What particles that touch do to each other.
#pragma once

namespace comet {

// Particles touch that are no farther apart than this fraction of the distance at which they do.
inline constexpr double kTouching = 0.02;

// As it is in a frame. Friction as coefficients of Coulomb's law.
struct ContactRule {
  bool isBetweenAll = true;   // emitters; else each particle meets only those of its own
  double radius = 1;          // of a particle, as a fraction of half its size
  double friction = 0;        // while they slide
  double staticFriction = 0;  // while they do not, at least `friction`
  double bounce = 0;          // the fraction of their approach with which they part, 0 to 1
  double softness = 0;        // how much of an overlap stays, s²: 0 for rigid
  double support = 0;         // by how much less what lies below gives way, 0 to 1
  int steps = 1;              // that a substep is made of, at least one
};

}  // namespace comet
