// The size that a particle is born with: looks draw it, and mass may follow it.
#pragma once

#include "base/distribution.h"
#include "base/random.h"
#include "particles/particle_store.h"
#include "scene/item.h"

#include <optional>

namespace comet {

class BirthSize {
 public:
  BirthSize(const Item& emitter, double frame);

  // Diameter in scene units, without its course over age.
  double diameter(ParticleId id) const;
  double mean() const { return size_; }

  void describe(Hasher& hasher) const;

 private:
  RandomSource random_;
  double size_, variation_;
  std::optional<Distribution> spread_;  // none: even
};

// The random numbers of an emitter's looks.
RandomSource lookRandom(const Item& emitter, double frame);

}  // namespace comet
