// Counter-based random numbers: a draw depends on who asks and for what, never on who asked before.
//
// So whatever varies per particle is derived from its identity when it is needed and stored nowhere, and the
// order of threads cannot change it. The mixing step is the finaliser of SplitMix64 (Steele, Lea & Flood,
// "Fast Splittable Pseudorandom Number Generators", 2014). All functions may be called from any thread.
#pragma once

#include "base/identity.h"

#include <cstdint>

namespace comet {

inline std::uint64_t mixBits(std::uint64_t bits) {
  bits = (bits ^ (bits >> 30)) * 0xBF58476D1CE4E5B9ULL;
  bits = (bits ^ (bits >> 27)) * 0x94D049BB133111EBULL;
  return bits ^ (bits >> 31);
}

// One key out of two.
inline std::uint64_t combineKeys(std::uint64_t a, std::uint64_t b) {
  return mixBits(a + 0x9E3779B97F4A7C15ULL * (b + 1));
}

// What a draw is for. The numbers are part of every saved effect's look: add at the end, never reorder.
enum class Draw : std::uint32_t {
  ShapeA,
  ShapeB,
  ShapeC,
  DirectionA,
  DirectionB,
  Speed,
  Lifetime,
  Rate,
  BurstCount,
  Size,
  Opacity,
  Mass,
  LaunchNoise,
  Wander,
  ShapeMore,  // and on from here, by a counter
  SizeFollows = 64,
  OpacityFollows,
  Stretch,
  StretchFollows,
  Spin,
  SpinFollows,
  Rotation,
  ColorHue,
  ColorSaturation,
  ColorValue,
  ColorFollows,
  Glow,
  GlowFollows,
  Variant,
  BookStart,
  BookFollows,
  TumbleA,
  TumbleB,
  AgeFrom,
  AgeUntil,
  KickMoment,
  KickDirectionA,
  KickDirectionB,
  KickStrength,
  Bounce,
  RoughA,
  RoughB,
  DeflectPass,
  SpinRate,
  SpinWay,
  StickTime,
  ChildCount,
  ChildChance,
  ChildPhase,
  RuleChance,
  RuleMoment,
  RuleKickA,
  RuleKickB,
  TrailLength,
  TrailWidth,
  TrailWidthFollows,
  GasBurstStart,
  GasBurstLength,
  GasDensity,
  GasTemperature,
  GasExpansion,
  GasFuel,
  BirthPoint,
  ArriveTime,
  ArriveHold,
  ArriveRelease,
  CardCurl,
};

class RandomSource {
 public:
  explicit RandomSource(std::uint64_t key) : key_(key) {}

  std::uint64_t key() const { return key_; }

  // Uniform in [0, 1), the same for the same key, identity and purpose, in whichever round.
  double unit(std::uint64_t identity, Draw draw) const {
    const std::uint64_t stream = key_ + 0x9E3779B97F4A7C15ULL * (static_cast<std::uint64_t>(draw) + 1);
    return static_cast<double>(mixBits(mixBits(withoutCycle(identity)) ^ stream) >> 11) * 0x1.0p-53;
  }

  // Uniform in [-1, 1).
  double signedUnit(std::uint64_t identity, Draw draw) const { return 2.0 * unit(identity, draw) - 1.0; }

 private:
  std::uint64_t key_;
};

}  // namespace comet
