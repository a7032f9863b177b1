// What particles weigh. The mass is derived from a particle's identity and never stored.
#pragma once

#include "simulation/emission/size.h"
#include "simulation/emission/varied.h"

#include <optional>

namespace comet {

class MassRule {
 public:
  MassRule() = default;
  MassRule(const Item& emitter, double frame);

  // Whether all particles weigh the same.
  bool isUniform() const { return mass_.variation == 0 && !size_ && !mass_.formula; }
  double uniform() const { return mass_.value; }
  // `moment` gives the particle's ParticleMoment, and is asked only if it counts.
  template <typename Moment>
  double of(ParticleId id, const Moment& moment) const {
    const double own = mass_.variation > 0 ? mass_.pick(random_.signedUnit(id, Draw::Mass)) : mass_.value;
    return bySize(id, mass_.formula ? mass_.formula->of(moment(), own) : own);
  }

  void describe(Hasher& hasher) const;

 private:
  double bySize(ParticleId id, double mass) const;

  RandomSource random_{0};
  Varied mass_{1, 0};
  double fromSize_ = 0;  // share, 0 to 1
  std::optional<BirthSize> size_;
};

}  // namespace comet
