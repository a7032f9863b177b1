// All particles of a scene at one moment: what the simulation makes, the cache keeps and the renderer reads.
//
// A state is finished when it is made and never changes; share it between threads freely. It does not know
// which frame it belongs to: equal moments of a loop have the same one.
#pragma once

#include "base/digest.h"
#include "particles/particle_store.h"

#include <cstdint>
#include <memory>
#include <vector>

namespace comet {

// Where an emitter's births stand, so that a run can go on from any frame.
struct BirthState {
  std::uint64_t next = 0;  // number of the next birth
  double carry = 0;        // fraction of a birth that is due but not yet full, 0 to 1
};

struct ParticleGroup {
  std::uint32_t emitter = 0;  // the emitter's item id
  BirthState births;
  ParticleStore particles;
};

struct ParticleState {
  std::vector<ParticleGroup> groups;  // in the scene's order of emitters

  // Null if the emitter has no group here.
  const ParticleGroup* find(std::uint32_t emitter) const;
  // How many particles there are in all.
  std::size_t count() const;
  std::size_t bytes() const;
  // A fingerprint: equal for equal particles in equal order, whatever led to them.
  Digest digest() const;
};

using ParticleStatePtr = std::shared_ptr<const ParticleState>;

// The states before one, the newest first.
using Past = std::vector<ParticleStatePtr>;

}  // namespace comet
