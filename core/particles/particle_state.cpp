#include "particles/particle_state.h"

#include <algorithm>

namespace comet {

const ParticleGroup* ParticleState::find(std::uint32_t emitter) const {
  const auto found = std::find_if(groups.begin(), groups.end(),
                                  [emitter](const ParticleGroup& group) { return group.emitter == emitter; });
  return found == groups.end() ? nullptr : &*found;
}

std::size_t ParticleState::count() const {
  std::size_t sum = 0;
  for (const ParticleGroup& group : groups) sum += group.particles.size();
  return sum;
}

std::size_t ParticleState::bytes() const {
  std::size_t sum = sizeof *this + groups.capacity() * sizeof(ParticleGroup);
  for (const ParticleGroup& group : groups) sum += group.particles.bytes();
  return sum;
}

Digest ParticleState::digest() const {
  Hasher hasher;
  for (const ParticleGroup& group : groups) {
    hasher << group.emitter << group.births.next << group.births.carry;
    group.particles.describe(hasher);
  }
  return hasher.digest();
}

}  // namespace comet
