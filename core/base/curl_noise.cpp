#include "base/curl_noise.h"

#include "base/vec.h"

#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "base/curl_noise.cpp"
#include <hwy/foreach_target.h>
// After foreach_target.h, as the library asks.
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace comet {
namespace HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

using FloatTag = hn::ScalableTag<float>;
using BitsTag = hn::RebindToUnsigned<FloatTag>;
using Float = hn::Vec<FloatTag>;
using Bits = hn::Vec<BitsTag>;

// Large odd numbers that spread neighbouring lattice points over all hash values.
constexpr std::uint32_t kSpreadX = 0x8DA6B343U, kSpreadY = 0xD8163841U, kSpreadZ = 0xCB1AB31FU;

// How far the gradients have turned; lattice points turn once or twice a period.
struct Phase {
  float cosine[2];
  float sine[2];
};

struct Triple {
  Float x, y, z;
};

// Where a point lies in its lattice cell, along one axis.
struct Along {
  Bits hash;       // of the lattice point below
  Float fraction;  // from it, 0 to 1
  Float weight;    // of the lattice point above: a quintic with zero first and second derivative at both ends
  Float weightChange;  // its derivative
};

HWY_INLINE Along along(Float x, std::uint32_t spread) {
  const FloatTag d;
  const hn::RebindToSigned<FloatTag> di;
  const BitsTag du;
  const Float below = hn::Floor(x);
  const Float f = hn::Sub(x, below);
  const auto set = [&](float value) { return hn::Set(d, value); };
  const Float f2 = hn::Mul(f, f);
  const Float curve = hn::Add(hn::Mul(f, hn::Sub(hn::Mul(f, set(6.0F)), set(15.0F))), set(10.0F));
  const Float change = hn::Add(hn::Mul(f, hn::Sub(f, set(2.0F))), set(1.0F));
  const Bits index = hn::BitCast(du, hn::ConvertTo(di, below));
  return {hn::Mul(index, hn::Set(du, spread)), f, hn::Mul(hn::Mul(f2, f), curve),
          hn::Mul(hn::Mul(f2, set(30.0F)), change)};
}

// Wellons' "lowbias32" (2018) without its last step.
HWY_INLINE Bits mix(Bits h) {
  const BitsTag du;
  h = hn::Xor(h, hn::ShiftRight<16>(h));
  h = hn::Mul(h, hn::Set(du, 0x7FEB352DU));
  h = hn::Xor(h, hn::ShiftRight<15>(h));
  return hn::Mul(h, hn::Set(du, 0x846CA68BU));
}

// Three numbers from -511.5 to 511.5 out of a hash's upper 30 bits.
HWY_INLINE Triple numbersFrom(Bits h) {
  const FloatTag d;
  const BitsTag du;
  const hn::RebindToSigned<FloatTag> di;
  const Bits ten = hn::Set(du, 1023U);
  const Float half = hn::Set(d, 511.5F);
  const auto number = [&](Bits bits) {
    return hn::Sub(hn::ConvertTo(d, hn::BitCast(di, hn::And(bits, ten))), half);
  };
  return {number(hn::ShiftRight<2>(h)), number(hn::ShiftRight<12>(h)),
          hn::Sub(hn::ConvertTo(d, hn::BitCast(di, hn::ShiftRight<22>(h))), half)};
}

// The gradient of one potential at lattice points with this hash, turned by the phase.
template <bool kTurns>
HWY_INLINE Triple gradientAt(Bits h, const Phase& phase) {
  const FloatTag d;
  const BitsTag du;
  const Triple still = numbersFrom(h);
  if constexpr (!kTurns) return still;
  const Triple other = numbersFrom(hn::Mul(hn::Xor(h, hn::ShiftRight<13>(h)), hn::Set(du, 0x9E3779B1U)));
  const auto twice = hn::RebindMask(d, hn::TestBit(h, hn::Set(du, 2U)));
  const Float c = hn::IfThenElse(twice, hn::Set(d, phase.cosine[1]), hn::Set(d, phase.cosine[0]));
  const Float s = hn::IfThenElse(twice, hn::Set(d, phase.sine[1]), hn::Set(d, phase.sine[0]));
  const auto turn = [&](Float a, Float b) { return hn::Add(hn::Mul(a, c), hn::Mul(b, s)); };
  return {turn(still.x, other.x), turn(still.y, other.y), turn(still.z, other.z)};
}

HWY_INLINE Float dot(const Triple& a, const Triple& b) {
  return hn::Add(hn::Add(hn::Mul(a.x, b.x), hn::Mul(a.y, b.y)), hn::Mul(a.z, b.z));
}

// Adds one corner of the cell. With weight w of the corner, gradients g and potentials p of the three
// components, its fraction of the curl is w * curl(g) + grad(w) × p.
template <bool kTurns>
HWY_INLINE void addCorner(Bits h, const Phase& phase, const Triple& offset, Float weight,
                          const Triple& change, Triple& sum) {
  const BitsTag du;
  const Bits first = mix(h);
  const Bits second = hn::Mul(hn::Xor(first, hn::ShiftRight<15>(first)), hn::Set(du, 0x2C1B3C6DU));
  const Bits third = hn::Mul(hn::Xor(first, hn::ShiftRight<17>(first)), hn::Set(du, 0x297A2D39U));
  const Triple a = gradientAt<kTurns>(first, phase);
  const Triple b = gradientAt<kTurns>(second, phase);
  const Triple c = gradientAt<kTurns>(third, phase);
  const Float pa = dot(a, offset), pb = dot(b, offset), pc = dot(c, offset);
  const auto share = [&](Float g1, Float g2, Float w1, Float p1, Float w2, Float p2) {
    return hn::Add(hn::Mul(weight, hn::Sub(g1, g2)), hn::Sub(hn::Mul(w1, p1), hn::Mul(w2, p2)));
  };
  sum.x = hn::Add(sum.x, share(c.y, b.z, change.y, pc, change.z, pb));
  sum.y = hn::Add(sum.y, share(a.z, c.x, change.z, pa, change.x, pc));
  sum.z = hn::Add(sum.z, share(b.x, a.y, change.x, pb, change.y, pa));
}

template <bool kTurns>
HWY_INLINE Triple octave(const Triple& p, std::uint32_t seed, const Phase& phase) {
  const FloatTag d;
  const BitsTag du;
  const Along x = along(p.x, kSpreadX), y = along(p.y, kSpreadY), z = along(p.z, kSpreadZ);
  const Float one = hn::Set(d, 1.0F);
  const Float zero = hn::Zero(d);
  Triple sum{zero, zero, zero};
  // Unrolled by the compiler: the corner's bits are then constants.
  for (int corner = 0; corner < 8; ++corner) {
    const bool upX = (corner & 1) != 0, upY = (corner & 2) != 0, upZ = (corner & 4) != 0;
    const auto hashOf = [&](const Along& axis, bool up, std::uint32_t spread) {
      return up ? hn::Add(axis.hash, hn::Set(du, spread)) : axis.hash;
    };
    const auto offsetOf = [&](const Along& axis, bool up) {
      return up ? hn::Sub(axis.fraction, one) : axis.fraction;
    };
    const auto weightOf = [&](const Along& axis, bool up) {
      return up ? axis.weight : hn::Sub(one, axis.weight);
    };
    const auto changeOf = [&](const Along& axis, bool up) {
      return up ? axis.weightChange : hn::Sub(zero, axis.weightChange);
    };
    const Bits h = hn::Xor(hn::Xor(hashOf(x, upX, kSpreadX), hashOf(y, upY, kSpreadY)),
                           hn::Xor(hashOf(z, upZ, kSpreadZ), hn::Set(du, seed)));
    const Float wx = weightOf(x, upX), wy = weightOf(y, upY), wz = weightOf(z, upZ);
    const Triple change{hn::Mul(changeOf(x, upX), hn::Mul(wy, wz)),
                        hn::Mul(changeOf(y, upY), hn::Mul(wx, wz)),
                        hn::Mul(changeOf(z, upZ), hn::Mul(wx, wy))};
    addCorner<kTurns>(h, phase, {offsetOf(x, upX), offsetOf(y, upY), offsetOf(z, upZ)},
                      hn::Mul(wx, hn::Mul(wy, wz)), change, sum);
  }
  return sum;
}

template <bool kTurns>
void addAll(const CurlNoise& noise, const Phase& phase, std::size_t count,
            const std::array<const float*, 3>& position, const std::array<float*, 3>& result) {
  // Makes the root mean square length of one octave's vectors 1; found by averaging over a million positions.
  constexpr float kNormal = 1.0F / 614.0F;
  const FloatTag d;
  for (std::size_t i = 0; i < count; i += hn::Lanes(d)) {
    float frequency = 1.0F / noise.scale;
    float strength = noise.strength * kNormal;
    std::uint32_t seed = noise.seed;
    Triple sum{hn::Load(d, result[0] + i), hn::Load(d, result[1] + i), hn::Load(d, result[2] + i)};
    for (int o = 0; o < noise.octaves; ++o) {
      const Float f = hn::Set(d, frequency), s = hn::Set(d, strength);
      const Triple p{hn::Mul(hn::Load(d, position[0] + i), f), hn::Mul(hn::Load(d, position[1] + i), f),
                     hn::Mul(hn::Load(d, position[2] + i), f)};
      const Triple curl = octave<kTurns>(p, seed, phase);
      sum.x = hn::Add(sum.x, hn::Mul(curl.x, s));
      sum.y = hn::Add(sum.y, hn::Mul(curl.y, s));
      sum.z = hn::Add(sum.z, hn::Mul(curl.z, s));
      frequency *= 2.0F;
      strength *= 0.5F;
      seed = seed * 0x9E3779B1U + 0x7F4A7C15U;
    }
    hn::Store(sum.x, d, result[0] + i);
    hn::Store(sum.y, d, result[1] + i);
    hn::Store(sum.z, d, result[2] + i);
  }
}

void AddCurlNoise(const CurlNoise& noise, const double* cosines, const double* sines, std::size_t count,
                  const std::array<const float*, 3>& position, const std::array<float*, 3>& result) {
  const Phase phase{{static_cast<float>(cosines[0]), static_cast<float>(cosines[1])},
                    {static_cast<float>(sines[0]), static_cast<float>(sines[1])}};
  if (noise.turns != 0)
    addAll<true>(noise, phase, count, position, result);
  else
    addAll<false>(noise, phase, count, position, result);
}

}  // namespace HWY_NAMESPACE
}  // namespace comet
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace comet {

HWY_EXPORT(AddCurlNoise);

void addCurlNoise(const CurlNoise& noise, std::size_t count, const std::array<const float*, 3>& position,
                  const std::array<float*, 3>& result) {
  const double angle = 2.0 * kPi * (noise.turns - std::floor(noise.turns));
  const double cosines[2] = {std::cos(angle), std::cos(2.0 * angle)};
  const double sines[2] = {std::sin(angle), std::sin(2.0 * angle)};
  HWY_DYNAMIC_DISPATCH(AddCurlNoise)(noise, cosines, sines, count, position, result);
}

}  // namespace comet
#endif
