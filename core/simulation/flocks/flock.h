// A flock: particles that keep apart, go along with and stay near those that they see, and follow a target.
//
// After Reynolds, "Flocks, Herds, and Schools: A Distributed Behavioral Model", 1987, and "Steering Behaviors
// For Autonomous Characters", 1999.
#pragma once

#include "base/progress.h"
#include "particles/neighbour_grid.h"
#include "scene/scene.h"
#include "simulation/flocks/flock_sums.h"
#include "simulation/frame/scene_frame.h"
#include "simulation/influences/influence.h"

#include <map>

namespace comet {

// What the members of a flock do, at one moment.
struct FlockRules {
  enum class Target { None, Seek, Flee, Circle };

  FlockRules(const Item& item, double frame);
  void describe(Hasher& hasher) const;

  bool seesAll;
  double sight, cosineOfSight;
  double separation, separationRadius;  // units/s², units
  double alignment, alignmentRadius;    // 1/s, units
  double cohesion, cohesionRadius;      // 1/s², units
  Target target;
  Vec3d place, axis;
  double targetStrength, targetSight, slowWithin, circleRadius;  // units/s², units
  double wander, wanderRate;                                     // units/s², 1/s
  double minSpeed, maxSpeed;
  double turnRate;  // rad/s
  ItemId self;      // the flock itself, which its random numbers depend on
  struct Others {
    ItemId emitter;   // 0 for none
    double strength;  // units/s²
  };
  Others chased, feared;
  double lookAhead, keepsOff, avoidance;  // seconds, units, units/s²
};

class Flock : public InfluenceAction {
 public:
  using Grid = std::shared_ptr<const NeighbourGrid>;
  // What there is around, as it is at a moment if all go on as they do.
  struct View {
    std::map<std::uint32_t, Grid> flocks;  // those that a group of particles takes part in
    Grid chased, feared;                   // null for none
    std::vector<std::shared_ptr<const InfluenceAction>> deflectors;
    double at = 0;  // seconds since the scene's first frame
    // What each particle sums up over the others then, by its place in its group as the step begins. Known
    // beforehand only if particles look at no other time.
    std::map<std::uint32_t, UntouchedVector<FlockSums>> sums;
  };

  // Before it has seen a frame, it sees nobody.
  explicit Flock(const FlockRules& rules) : rules_(rules) {}
  Flock(const FlockRules& rules, View view) : rules_(rules), view_(std::move(view)) {}

  void describe(Hasher& hasher) const override { rules_.describe(hasher); }
  bool adds() const override { return true; }
  bool readsPositions() const override { return true; }
  void addTo(Forces& forces, const Samples& samples, const Substep& substep,
             const Weights& weights) const override;
  std::shared_ptr<const InfluenceAction> seeing(const Surroundings& around) const override;
  // Holds speeds within their limits.
  bool corrects() const override { return true; }
  void correct(Chunk& chunk, const Substep& substep, const Durations& durations, const Masses& masses,
               const Weights& weights) const override;

  // What a particle does by its own will.
  struct Self {
    ParticleId id = 0;
    Vec3d position{0.0}, velocity{0.0};
  };
  struct Sight {
    Vec3d steering{0.0};  // units/s²
    int neighbours = 0;   // that it sees
    bool seesTarget = false;
  };
  // `seconds` since the scene's first frame; `step` is how long the steering will last, seconds.
  Sight sightOf(const Self& self, double seconds, double step) const;

  bool hasTarget() const { return rules_.target != FlockRules::Target::None; }

 private:
  template <typename Visit>
  void forSeen(const NeighbourGrid& grid, const Self& self, double seconds, const Visit& visit) const;
  const NeighbourGrid* gridFor(ParticleId id) const;  // null if it sees nobody
  FlockSearch searchAt(double seconds) const;
  FlockLooker lookerFor(const Self& self) const;
  // Adds to the view what the particles of all flocks sum up.
  void sumUp(const Progress& progress);
  // Of particles of one emitter, in their order; null if they are not known beforehand.
  const FlockSums* knownSums(const Samples& samples, const FlockSearch& search) const;
  // Calls use(i, sums) for each sample.
  template <typename Use>
  void forSums(const Samples& samples, const FlockSearch& search, const Use& use) const;
  // With what it has summed up of the others; `alignment` is the rate at which it takes on their velocity.
  Sight sightWith(const FlockSums& sums, const Self& self, double seconds, double alignment) const;
  Vec3d fromOthers(const FlockSums& sums, const Self& self, double alignment) const;
  Vec3d toTarget(const Self& self) const;
  Vec3d toHunted(const Self& self, double seconds) const;
  Vec3d fromFeared(const Self& self, double seconds) const;
  Vec3d fromDeflectors(const Self& self, double seconds) const;
  Vec3d wandering(ParticleId id, double seconds) const;
  Vec3d heldToTurn(const Vec3d& steering, const Vec3d& velocity) const;

  FlockRules rules_;
  View view_;
};

// How a flock of a scene fares in a frame.
struct FlockSight {
  std::size_t particles = 0;  // that answer to it
  double neighbours = 0;      // that each sees, on average
  double targetSeen = 0;      // the fraction of particles that see the target
  double atMostSpeed = 0;     // the fraction of them that the speed limit holds
  bool hasTarget = false;
};
// Looks at each pair that sees each other: work for a background thread. Throws Error(Cancelled).
FlockSight flockSight(const Scene& scene, const Item& item, const SceneFrame& frame,
                      const Progress& progress = {});

}  // namespace comet
