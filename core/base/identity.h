// Who a particle is: the emitter that it came from, the round of the loop that it was born in, and the
// how-manieth birth of that round it was. A scene that does not loop has one round only.
//
// What varies per particle is drawn from its identity without the round, so that a particle that is born
// again in the next round is as it was.
#pragma once

#include <cstdint>

namespace comet {

using ParticleId = std::uint64_t;

constexpr int kBirthBits = 40;  // of the round and the birth
constexpr int kCycleBits = 14;
constexpr std::uint64_t kBirthsARound = std::uint64_t{1} << (kBirthBits - kCycleBits);
constexpr std::uint64_t kMaxRounds = std::uint64_t{1} << kCycleBits;

inline ParticleId particleId(std::uint32_t emitter, std::uint64_t birth) {
  return (static_cast<std::uint64_t>(emitter) << kBirthBits) | birth;
}

inline std::uint32_t emitterOfId(ParticleId id) { return static_cast<std::uint32_t>(id >> kBirthBits); }

// With the round.
inline std::uint64_t birthOfId(ParticleId id) { return id & ((std::uint64_t{1} << kBirthBits) - 1); }

// Of an identity, or of a birth alone.
inline std::uint64_t withoutCycle(std::uint64_t id) { return id & ~((kMaxRounds - 1) * kBirthsARound); }

}  // namespace comet
