// The particles of one emitter at one moment, as a structure of arrays.
//
// Each array holds one number per particle, oldest birth first. Positions are in scene units, velocities in
// units per second, age and lifetime in seconds. What can be derived from these and the scene (size, colour,
// random choices) is not here, but for a displacement, where the scene has any. 40 bytes a particle, in one
// block of memory; the arrays' first bytes are spread over the cache's sets, since eight arrays at equal
// distance would evict each other.
#pragma once

#include "base/vec.h"

#include <array>
#include <cstddef>
#include <cstdint>
#include <memory>
#include <vector>

namespace comet {

// Which emitter a particle came from, and the how-manieth birth it was.
using ParticleId = std::uint64_t;

constexpr int kBirthBits = 40;

inline ParticleId particleId(std::uint32_t emitter, std::uint64_t birth) {
  return (static_cast<std::uint64_t>(emitter) << kBirthBits) | birth;
}

inline std::uint64_t birthOfId(ParticleId id) { return id & ((std::uint64_t{1} << kBirthBits) - 1); }

class ParticleStore {
 public:
  // The float arrays, in their order in memory.
  enum Field { PositionX, PositionY, PositionZ, VelocityX, VelocityY, VelocityZ, Age, Lifetime, kFieldCount };

  ParticleStore() = default;
  // Room for `capacity` particles, with as yet meaningless content. Throws std::bad_alloc.
  explicit ParticleStore(std::size_t capacity);

  // With room for its particles only, and without displacement. Throws std::bad_alloc.
  ParticleStore copy() const;

  std::size_t size() const { return size_; }
  std::size_t capacity() const { return capacity_; }
  void resize(std::size_t size);
  std::size_t bytes() const { return bytesFor(capacity_) + displacement_.capacity() * sizeof(Vec3); }
  static std::size_t bytesFor(std::size_t capacity);

  float* field(Field which) { return fields_[which]; }
  const float* field(Field which) const { return fields_[which]; }
  Vec3d position(std::size_t i) const { return triple(PositionX, i); }
  Vec3d velocity(std::size_t i) const { return triple(VelocityX, i); }
  // Where a particle is shown: its position and what it is displaced by. No influence acts on that place.
  Vec3d shownPosition(std::size_t i) const {
    return displacement_.empty() ? position(i) : position(i) + Vec3d(displacement_[i]);
  }
  // One for each particle, or none.
  void setDisplacement(std::vector<Vec3> displacement) { displacement_ = std::move(displacement); }
  const std::vector<Vec3>& displacement() const { return displacement_; }
  ParticleId* ids() { return ids_; }
  const ParticleId* ids() const { return ids_; }

 private:
  Vec3d triple(int first, std::size_t i) const {
    return {fields_[first][i], fields_[first + 1][i], fields_[first + 2][i]};
  }

  struct Free {
    void operator()(void* block) const;
  };

  std::unique_ptr<void, Free> block_;
  std::array<float*, kFieldCount> fields_{};
  ParticleId* ids_ = nullptr;
  std::size_t size_ = 0;
  std::size_t capacity_ = 0;
  std::vector<Vec3> displacement_;
};

}  // namespace comet
