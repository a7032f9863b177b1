// Groups of particles as bytes, for start states and frames on disk.
#pragma once

#include "base/byte_stream.h"
#include "particles/particle_state.h"

#include <cstdint>

namespace comet {

// Without displacement.
void putGroup(std::string& bytes, const ParticleGroup& group);

// Throws DamagedBytes: too short, more particles than `mostParticles`, numbers that no particle has.
ParticleGroup takeGroup(ByteReader& reader, std::uint64_t maxParticles);

}  // namespace comet
