// Where influences are asked what they do: particles in the middle of a substep, or positions in space at
// which nothing need be.
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

// Arrays are readable up to the next multiple of the vector width after `count`, which is at most kChunkSize.
struct Samples {
  std::size_t count = 0;
  std::array<const float*, 3> positions{};
  // What only particles have; null where there are none.
  std::array<const float*, 3> velocities{};
  const ParticleId* ids = nullptr;
  const float* ages = nullptr;       // seconds
  const float* lifetimes = nullptr;  // seconds
  // The place of the first particle in its group as the step began; nothing for those that are born in it.
  std::optional<std::size_t> startInGroup{};

  bool areParticles() const { return ids != nullptr; }
  Vec3d position(std::size_t i) const { return {positions[0][i], positions[1][i], positions[2][i]}; }
  // At rest, if they are not particles.
  Vec3d velocity(std::size_t i) const {
    return velocities[0] ? Vec3d(velocities[0][i], velocities[1][i], velocities[2][i]) : Vec3d(0.0);
  }
  // What a formula may know of them.
  ParticleMoment moment(std::size_t i) const;
};

// What a formula may know of a particle.
inline ParticleMoment particleMoment(ParticleId id, double age, double lifetime, const Vec3d& position,
                                     const Vec3d& velocity) {
  return {age,
          lifetime,
          std::clamp(age / lifetime, 0.0, 1.0),
          glm::length(velocity),
          static_cast<double>(birthOfId(withoutCycle(id))),
          position.x,
          position.y,
          position.z};
}

inline ParticleMoment Samples::moment(std::size_t i) const {
  if (areParticles()) return particleMoment(ids[i], ages[i], lifetimes[i], position(i), velocity(i));
  return particleMoment(0, 0, 1, position(i), Vec3d(0.0));
}

// Times of a substep, in seconds since the scene's first frame.
struct Substep {
  double start = 0;
  double length = 0;
  std::size_t index = 0;  // among those of its step

  double middle() const { return start + 0.5 * length; }
};

// How strongly an influence acts, 1 for 100 %: on all samples alike, or on each its own.
struct Weights {
  double all = 1;
  const float* own = nullptr;  // if set, one for each sample, and `all` does not matter

  double of(std::size_t i) const { return own ? static_cast<double>(own[i]) : all; }
};

}  // namespace comet
