// A few thousand particles that pass through all influences while they are in the processor's cache.
#pragma once

#include "simulation/motion/samples.h"

#include <vector>

namespace comet {

// The particles of a chunk during a substep. Arrays are readable and writable up to the next multiple of the
// vector width after `count`.
struct Chunk {
  std::size_t count = 0;
  const ParticleId* ids = nullptr;
  // The place of the first one in its group as the step began; nothing for those that are born in it.
  std::optional<std::size_t> startInGroup;
  FieldSet present;           // the fields that are set
  std::vector<float> bodies;  // of the particles, one behind the other, as in the store
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
    return particleMoment(ids[i], field(ParticleStore::Age)[i], field(ParticleStore::Lifetime)[i],
                          position(i), velocity(i));
  }
  // Where and when influences are asked; what `middle` and `middleAge` say holds as far as they are set.
  Samples samples() const {
    return {
        count,
        {middle[0].data(), middle[1].data(), middle[2].data()},
        {field(ParticleStore::VelocityX), field(ParticleStore::VelocityY), field(ParticleStore::VelocityZ)},
        ids,
        middleAge.data(),
        field(ParticleStore::Lifetime),
        startInGroup};
  }

  Vec3d position(std::size_t i) const { return triple(ParticleStore::PositionX, i); }
  Vec3d velocity(std::size_t i) const { return triple(ParticleStore::VelocityX, i); }
  void setPosition(std::size_t i, const Vec3d& position) { set(ParticleStore::PositionX, i, position); }
  void setVelocity(std::size_t i, const Vec3d& velocity) { set(ParticleStore::VelocityX, i, velocity); }

 private:
  Vec3d triple(std::size_t first, std::size_t i) const {
    return {fields[first][i], fields[first + 1][i], fields[first + 2][i]};
  }
  void set(std::size_t first, std::size_t i, const Vec3d& triple) {
    for (int axis = 0; axis < 3; ++axis) fields[first + axis][i] = static_cast<float>(triple[axis]);
  }
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

}  // namespace comet
