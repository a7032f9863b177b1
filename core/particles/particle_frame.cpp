#include "particles/particle_frame.h"

#include <algorithm>

namespace comet {

const ParticleGroup* ParticleFrame::find(std::uint32_t emitter) const {
  const auto found = std::find_if(groups.begin(), groups.end(),
                                  [emitter](const ParticleGroup& group) { return group.emitter == emitter; });
  return found == groups.end() ? nullptr : &*found;
}

std::size_t ParticleFrame::bytes() const {
  std::size_t sum = sizeof *this + groups.capacity() * sizeof(ParticleGroup) +
                    deflections.capacity() * sizeof(DeflectionStats) + hits.capacity() * sizeof(SurfaceHit);
  for (const ParticleGroup& group : groups) sum += group.particles.bytes();
  return sum;
}

Digest ParticleFrame::stateDigest() const {
  Hasher hasher;
  for (const ParticleGroup& group : groups) {
    const std::size_t count = group.particles.size();
    hasher << group.emitter << group.births.next << group.births.carry << count
           << group.particles.fields().bits();
    group.particles.fields().forEach([&](ParticleStore::Field field) {
      hasher.bytes(group.particles.field(field), count * sizeof(float));
    });
    hasher.bytes(group.particles.ids(), count * sizeof(ParticleId));
  }
  return hasher.digest();
}

}  // namespace comet
