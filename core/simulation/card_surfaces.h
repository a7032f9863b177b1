// What the points of cards lie on and slide along within a substep.
//
// A card presses its points against surfaces in every small step, and to follow each of them exactly each
// time would take far longer than all the rest. So the surfaces near a point are asked once, as the substep
// begins, and taken for planes until it ends: points are kept above them, with bounce and Coulomb's friction
// on their positions (Müller, Heidelberger, Hennix and Ratcliff, "Position Based Dynamics", 2007; Macklin,
// Müller, Chentanez and Kim, "Unified Particle Physics for Real-Time Applications", 2014). In the end the
// points are followed exactly on the way that this has taken them, so that none goes through anything.
#pragma once

#include "simulation/cards/card_rule.h"
#include "simulation/chunk_step.h"

#include <array>
#include <cstdint>
#include <vector>

namespace comet {

struct CardRoom;

class CardSurfaces {
 public:
  // Whether that can be said of all deflectors that act: they bounce points or let them slide, all alike.
  static bool suffice(const Schedule& schedule);

  // Asks the deflectors, as a substep begins.
  void find(const Schedule& schedule, const Substep& substep, const CardRule& rule, CardRoom& room);
  // Keeps the points above the planes, after what holds the cards together has moved them in a small step.
  void meet(const Substep& small, CardRoom& room);
  // Follows them on their way through the substep.
  void finish(const Schedule& schedule, const Substep& substep, const Durations& durations,
              CardRoom& room) const;

 private:
  // A surface near a point.
  struct Plane {
    const ActingDeflector* acting;
    std::uint32_t point, lane;  // the point, and its card
    Vec3 normal;
    Vec3 velocity;  // of the surface, units/s
    float gap;      // between the point and the surface as the substep begins, units
    float near;     // so far from it counts as touching
    float friction, bounce;
    bool isTouched;
  };

  static void note(const Plane& plane, double time, float against, const Vec3& at, ParticleId id);

  double start_ = 0;  // of the substep, seconds
  std::vector<Plane> planes_;
  std::array<ChunkArray, 3> begun_;  // where the points were then
};

}  // namespace comet
