// A few thousand particles that pass through all influences while they are in the processor's cache.
#pragma once

#include "base/vec.h"
#include "particles/particle_store.h"

#include <array>
#include <cstddef>

namespace comet {

// Small enough that state and forces of a chunk stay in a core's own cache, large enough that the work for
// each chunk hides the cost of starting it. Part of the result's definition only through the order of
// particles, which it does not change.
constexpr std::size_t kChunkSize = 2048;

// Room for reading and writing whole vectors past a chunk's last particle.
constexpr std::size_t kChunkPadding = 64;

using ChunkArray = std::array<float, kChunkSize + kChunkPadding>;

// The particles of a chunk during a substep. Arrays are readable and writable up to the next multiple of the
// vector width after `count`.
struct Chunk {
  std::size_t count = 0;
  alignas(64) std::array<ChunkArray, ParticleStore::kFieldCount> fields;
  // Where each particle will about be in the middle of the substep; set if an influence asks for it.
  alignas(64) std::array<ChunkArray, 3> middle;

  float* field(ParticleStore::Field which) { return fields[which].data(); }
  const float* field(ParticleStore::Field which) const { return fields[which].data(); }
};

// What influences contribute in a substep. The motion of a particle follows
//
//   dv/dt = acceleration + (force + drag (air - v)) / mass
//
// All contributions add up, so the order of influences does not matter. `acceleration`, `air` and `drag` are
// the same for all particles; `ownForce` is added per particle when `varies` is set.
struct Forces {
  Vec3d acceleration{0.0};
  Vec3d air{0.0};   // velocity of the air, units per second
  double drag = 0;  // 1 / s

  bool varies = false;
  alignas(64) std::array<ChunkArray, 3> ownForce;

  // Starts a substep: nothing acts yet.
  void clear() {
    acceleration = air = Vec3d(0.0);
    drag = 0;
    varies = false;
  }
  // The per-particle forces, zero at the first call of a substep.
  std::array<ChunkArray, 3>& vary() {
    if (!varies)
      for (ChunkArray& axis : ownForce) axis.fill(0.0F);
    varies = true;
    return ownForce;
  }
};

// Times of a substep, in seconds since the scene's first frame.
struct Substep {
  double start = 0;
  double length = 0;

  double middle() const { return start + 0.5 * length; }
};

}  // namespace comet
