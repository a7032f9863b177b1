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
  bool isUniform() const { return mass_.variation == 0 && !size_; }
  double uniform() const { return mass_.value; }
  double of(ParticleId id) const;

  void describe(Hasher& hasher) const;

 private:
  RandomSource random_{0};
  Varied mass_{1, 0};
  double fromSize_ = 0;  // share, 0 to 1
  std::optional<BirthSize> size_;
};

}  // namespace comet
