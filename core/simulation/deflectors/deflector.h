// Something that particles meet: a shape that moves, and what its surface does to them.
//
// Deflectors act together and after all other influences, on the way that a particle went in a substep.
#pragma once

#include "base/random.h"
#include "simulation/deflectors/deflector_motion.h"
#include "simulation/deflectors/deflector_shape.h"
#include "simulation/emission/varied.h"
#include "simulation/influences/influence.h"

#include <algorithm>

namespace comet {

struct SurfaceRule {
  enum class OnHit { Bounce, Slide, Stick, End };

  OnHit onHit = OnHit::Bounce;
  Varied bounce{0.5, 0};   // fraction of the speed against the surface that is kept
  double friction = 0;     // Coulomb's coefficient
  double roughness = 0;    // radians by which a bounce may be turned aside
  double pass = 0;         // fraction of particles that it does not stop
  Varied stickTime{0, 0};  // seconds after which it lets go; 0 for never
  double letGoSpeed = 0;   // away from the surface then, units/s
  double hold = 0;         // a sticking particle comes off if it is pulled away with more, units/s²
  double ownSize = 0;      // fraction of its own radius at which a particle is stopped
  bool isRolledOn = false;
  double rollingFriction = 0;  // coefficient

  // Whether what sticks to it comes off by itself.
  bool letsGo() const { return onHit == OnHit::Stick && (stickTime.value > 0 || stickTime.variation > 0); }
  void describe(Hasher& hasher) const;
};

class Deflector : public InfluenceAction {
 public:
  Deflector(const Item& item, const FrameTime& time, const Progress& progress = {});

  const Deflector* deflector() const override { return this; }
  FieldSet remembers() const override;
  void describe(Hasher& hasher) const override;

  const DeflectorShape& shape() const { return shape_; }
  const DeflectorMotion& motion() const { return motion_; }
  const SurfaceRule& rule() const { return rule_; }
  // How far from the surface particles are kept, so that what single floats lose cannot put them behind it.
  double skin() const { return skin_; }
  // Whether a particle goes through it, always or never.
  bool letsPass(ParticleId id) const {
    return rule_.pass > 0 && random_.unit(id, Draw::DeflectPass) < rule_.pass;
  }
  // Seconds that a particle sticks to it.
  double stickTime(ParticleId id) const {
    return std::max(0.0, rule_.stickTime.pick(random_.signedUnit(id, Draw::StickTime)));
  }
  // For what differs from hit to hit of a particle: `moment` tells them apart.
  RandomSource hitRandom(std::uint64_t moment) const {
    return RandomSource(combineKeys(random_.key(), moment));
  }

  // Of what it is in a step that starts at `stepStart` and lasts `stepLength` seconds: the fraction at a
  // time, seconds since the scene's first frame.
  double fractionAt(double seconds) const {
    return stepLength_ > 0 ? (seconds - stepStart_) / stepLength_ : 1.0;
  }

 private:
  DeflectorShape shape_;
  DeflectorMotion motion_;
  SurfaceRule rule_;
  RandomSource random_;
  double skin_;
  double stepStart_, stepLength_;
};

}  // namespace comet
