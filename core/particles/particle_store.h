// The particles of one emitter at one moment, as a structure of arrays.
//
// Each array holds one number per particle, oldest birth first. Positions are in scene units, velocities in
// units per second, age and lifetime in seconds. What can be derived from these and the scene (size, colour,
// random choices) is not here, but for a displacement, where the scene has any, and for what an influence has
// to remember of each particle. 40 bytes a particle without that, in one block of memory; the arrays' first
// bytes are spread over the cache's sets, since eight arrays at equal distance would evict each other.
//
// A particle may have a body: as many numbers for each as the store was made for, one particle's behind the
// other's. What they mean is the concern of those who move it; see simulation/cards/card_body.h.
#pragma once

#include "base/digest.h"
#include "base/identity.h"
#include "base/vec.h"

#include <array>
#include <cstddef>
#include <cstdint>
#include <initializer_list>
#include <limits>
#include <memory>
#include <vector>

namespace comet {

// The float arrays, in their order in memory.
struct ParticleFields {
  enum Field {
    PositionX,
    PositionY,
    PositionZ,
    VelocityX,
    VelocityY,
    VelocityZ,
    Age,
    Lifetime,
    // Only where somebody asks for them:
    Turn,  // radians, clockwise, that influences have turned the sprite by
    Held,  // seconds since it began to stick to a deflector; 0 if it does not, negative if that let it go
    Travelled,   // units of way since its birth
    RulesFired,  // how often each rule has, three bits for each, as a whole number
    Tags,        // a bit for each, as a whole number
    Still,       // 1 for one that a rule holds still, else 0
    Lineage,     // the first of those that lineage.h reads
    // How a particle rolls on others and on deflectors, rad/s about each axis, and how it has turned by that:
    // the vector part of a quaternion of length one whose scalar part is not negative. See rolling.h.
    RollX = Lineage + 18,
    RollY,
    RollZ,
    OrientX,
    OrientY,
    OrientZ,
    // Which influence brings a particle to a point of its own, which point, how far it has come, and where
    // and how fast it set out. See arrival.h.
    ArriveBy,
    ArriveStage,
    ArrivePoint,
    ArriveProgress,
    ArriveFromX,
    ArriveFromY,
    ArriveFromZ,
    ArriveSpeedX,
    ArriveSpeedY,
    ArriveSpeedZ,
    kFieldCount
  };
};

// Which fields there are: always those that every particle has.
class FieldSet {
 public:
  using Bits = std::uint64_t;
  static_assert(ParticleFields::kFieldCount < std::numeric_limits<Bits>::digits, "a bit for each field");

  FieldSet() = default;
  FieldSet(std::initializer_list<ParticleFields::Field> asked) {
    for (const ParticleFields::Field field : asked) bits_ |= Bits{1} << field;
  }
  // Of what bits() gave; other bits are left out.
  static FieldSet fromBits(Bits bits);

  bool has(ParticleFields::Field field) const { return (bits_ >> field & 1U) != 0; }
  Bits bits() const { return bits_; }
  std::size_t count() const;
  FieldSet& operator|=(const FieldSet& other) {
    bits_ |= other.bits_;
    return *this;
  }
  template <typename Do>
  void forEach(const Do& act) const {
    for (int field = 0; field < ParticleFields::kFieldCount; ++field)
      if (has(static_cast<ParticleFields::Field>(field))) act(static_cast<ParticleFields::Field>(field));
  }

 private:
  Bits bits_ = (Bits{1} << (ParticleFields::Lifetime + 1)) - 1;
};

class ParticleStore : public ParticleFields {
 public:
  ParticleStore() = default;
  // Room for `capacity` particles, with as yet meaningless content but for zeros in the fields that not every
  // particle has. `bodyNumbers` of a body for each, which are zeros. Throws std::bad_alloc.
  explicit ParticleStore(std::size_t capacity, FieldSet fields = {}, std::size_t bodyNumbers = 0);

  // With room for its particles only, and without displacement. Throws std::bad_alloc.
  ParticleStore copy() const;

  // What follows changes fields, bodies and identities alike, and leaves the displacement alone.

  // Behind the last one, so many particles from `first` on of another store; fields that it lacks are zero,
  // and so are bodies of another length.
  void append(const ParticleStore& source, std::size_t first, std::size_t count);
  // Moves so many particles to where others were, towards the front.
  void moveDown(std::size_t from, std::size_t to, std::size_t count);
  // Takes away those at these indices, which ascend.
  void remove(const std::vector<std::size_t>& indices);
  // Adds fields, bodies and identities: stores of the same particles hash alike.
  void describe(Hasher& hasher) const;

  std::size_t size() const { return size_; }
  std::size_t capacity() const { return capacity_; }
  void resize(std::size_t size);
  std::size_t bytes() const {
    return bytesFor(capacity_, present_, bodyNumbers_) + displacement_.capacity() * sizeof(Vec3);
  }
  static std::size_t bytesFor(std::size_t capacity, FieldSet fields = {}, std::size_t bodyNumbers = 0);

  FieldSet fields() const { return present_; }
  // Null if there is no such field, or no room.
  float* field(Field which) { return fields_[which]; }
  const float* field(Field which) const { return fields_[which]; }
  // How many numbers each particle's body has; 0 if they have none.
  std::size_t bodyNumbers() const { return bodyNumbers_; }
  float* body(std::size_t i) { return bodies_ + i * bodyNumbers_; }
  const float* body(std::size_t i) const { return bodies_ + i * bodyNumbers_; }
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
  FieldSet present_;
  std::array<float*, kFieldCount> fields_{};
  ParticleId* ids_ = nullptr;
  std::size_t bodyNumbers_ = 0;
  float* bodies_ = nullptr;
  std::size_t size_ = 0;
  std::size_t capacity_ = 0;
  std::vector<Vec3> displacement_;
};

}  // namespace comet
