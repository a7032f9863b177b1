// A few thousand particles that pass through all influences while they are in the processor's cache.
#pragma once

#include "base/vec.h"
#include "params/formula.h"
#include "particles/particle_store.h"

#include <algorithm>
#include <array>
#include <cstddef>
#include <glm/geometric.hpp>
#include <optional>

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
  const ParticleId* ids = nullptr;
  // The place of the first one in its group as the step began; nothing for those that are born in it.
  std::optional<std::size_t> startInGroup;
  FieldSet present;  // the fields that are set
  alignas(64) std::array<ChunkArray, ParticleStore::kFieldCount> fields;
  // Where each particle will about be in the middle of the substep; set if an influence asks for it.
  alignas(64) std::array<ChunkArray, 3> middle;
  // How old each is then, seconds; set if an influence asks for it. The ages among the fields are those
  // before the frame's step.
  alignas(64) ChunkArray middleAge;

  float* field(ParticleStore::Field which) { return fields[which].data(); }
  const float* field(ParticleStore::Field which) const { return fields[which].data(); }

  // What a formula may know of a particle when the frame's step begins.
  ParticleMoment moment(std::size_t i) const {
    return momentOf(i, field(ParticleStore::Age)[i], position(i));
  }
  // The same in the middle of the substep; where Chunk::middle and middleAge are set.
  ParticleMoment middleMoment(std::size_t i) const { return momentOf(i, middleAge[i], middlePosition(i)); }

  Vec3d middlePosition(std::size_t i) const { return {middle[0][i], middle[1][i], middle[2][i]}; }
  Vec3d position(std::size_t i) const { return triple(ParticleStore::PositionX, i); }
  Vec3d velocity(std::size_t i) const { return triple(ParticleStore::VelocityX, i); }
  void setPosition(std::size_t i, const Vec3d& position) { set(ParticleStore::PositionX, i, position); }
  void setVelocity(std::size_t i, const Vec3d& velocity) { set(ParticleStore::VelocityX, i, velocity); }

 private:
  ParticleMoment momentOf(std::size_t i, double age, const Vec3d& place) const {
    const double life = field(ParticleStore::Lifetime)[i];
    return {age,
            life,
            std::clamp(age / life, 0.0, 1.0),
            glm::length(velocity(i)),
            static_cast<double>(birthOfId(withoutRound(ids[i]))),
            place.x,
            place.y,
            place.z};
  }
  Vec3d triple(std::size_t first, std::size_t i) const {
    return {fields[first][i], fields[first + 1][i], fields[first + 2][i]};
  }
  void set(std::size_t first, std::size_t i, const Vec3d& triple) {
    for (int axis = 0; axis < 3; ++axis) fields[first + axis][i] = static_cast<float>(triple[axis]);
  }
};

// Times of a substep, in seconds since the scene's first frame.
struct Substep {
  double start = 0;
  double length = 0;
  std::size_t index = 0;  // among those of its step

  double middle() const { return start + 0.5 * length; }
};

// How long each particle moves in a substep: all as long, or each as long as it has existed in it.
struct Durations {
  double all = 0;
  const double* own = nullptr;  // if set, one for each particle of the chunk

  double of(std::size_t i) const { return own ? own[i] : all; }
};

// What the particles weigh: all alike, or each its own.
struct Masses {
  double all = 1;
  const double* own = nullptr;  // if set, one for each particle of the chunk

  double of(std::size_t i) const { return own ? own[i] : all; }
};

// How strongly an influence acts, 1 for 100 %: on all particles alike, or on each its own.
struct Weights {
  double all = 1;
  const float* own = nullptr;  // if set, one for each particle of the chunk, and `all` does not matter

  double of(std::size_t i) const { return own ? static_cast<double>(own[i]) : all; }
};

}  // namespace comet
