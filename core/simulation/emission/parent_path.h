// The way that a particle went during a frame's step: what its children are born along.
#pragma once

#include "base/vec.h"
#include "particles/lineage.h"

namespace comet {

struct ParentPath {
  ParticleId id = 0;
  // Seconds since the step's start. The particle moved from `from` to `end`, and lived until `until`.
  double from = 0, end = 0, until = 0;
  Vec3 startPosition{0.0F}, startVelocity{0.0F}, endPosition{0.0F}, endVelocity{0.0F};
  float age = 0;  // at `from`
  float lifetime = 1;
  float travelled = 0;             // units, before `from`
  float rulesFired = 0, tags = 0;  // as in ParticleStore
  bool isBorn = false, dies = false;
  Lineage lineage{};

  // The cubic that begins and ends as the particle did: exact as long as its acceleration stays the same.
  Vec3d placeAt(double time) const;
  Vec3d velocityAt(double time) const;
  double ageAt(double time) const { return static_cast<double>(age) + time - from; }
  // Itself, as its children remember it.
  Ancestor at(double time) const;
};

// How far it went along its way until a moment, units.
double lengthUntil(const ParentPath& path, double time);
// The moment at which it has gone so far.
double momentAfter(const ParentPath& path, double length);

}  // namespace comet
