#include "simulation/integrate.h"

#include "simulation/motion_factors.h"

#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "simulation/integrate.cpp"
#include <hwy/foreach_target.h>
// After foreach_target.h, as the library asks.
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace comet {
namespace HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

template <bool kOwnFactors, bool kOwnForce>
void moveAxis(const MotionFactors& factors, std::size_t count, float acceleration, float force,
              const float* own, float* x, float* v) {
  const hn::ScalableTag<float> d;
  for (std::size_t i = 0; i < count; i += hn::Lanes(d)) {
    const auto decay = kOwnFactors ? hn::Load(d, factors.decays.data() + i) : hn::Set(d, factors.decay);
    const auto drift = kOwnFactors ? hn::Load(d, factors.drifts.data() + i) : hn::Set(d, factors.drift);
    const auto gain =
        kOwnFactors ? hn::Load(d, factors.driftGains.data() + i) : hn::Set(d, factors.driftGain);
    const auto inverse =
        kOwnFactors ? hn::Load(d, factors.inverseMasses.data() + i) : hn::Set(d, factors.inverseMass);
    auto f = hn::Set(d, force);
    if constexpr (kOwnForce) f = hn::Add(f, hn::Load(d, own + i));
    const auto a = hn::Add(hn::Set(d, acceleration), hn::Mul(f, inverse));
    const auto oldV = hn::Load(d, v + i);
    hn::Store(hn::Add(hn::Load(d, x + i), hn::Add(hn::Mul(oldV, drift), hn::Mul(a, gain))), d, x + i);
    hn::Store(hn::Add(hn::Mul(oldV, decay), hn::Mul(a, drift)), d, v + i);
  }
}

void Move(const MotionFactors& factors, const Forces& forces, Chunk& chunk) {
  for (int axis = 0; axis < 3; ++axis) {
    const auto a = static_cast<float>(forces.acceleration[axis]);
    const auto f = static_cast<float>(forces.drag * forces.air[axis]);
    const float* own = forces.ownForce[axis].data();
    float* x = chunk.fields[ParticleStore::PositionX + axis].data();
    float* v = chunk.fields[ParticleStore::VelocityX + axis].data();
    if (factors.perParticle)
      forces.varies ? moveAxis<true, true>(factors, chunk.count, a, f, own, x, v)
                    : moveAxis<true, false>(factors, chunk.count, a, f, own, x, v);
    else
      forces.varies ? moveAxis<false, true>(factors, chunk.count, a, f, own, x, v)
                    : moveAxis<false, false>(factors, chunk.count, a, f, own, x, v);
  }
}

}  // namespace HWY_NAMESPACE
}  // namespace comet
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace comet {
namespace {

struct Factors {
  double decay, drift, driftGain;
};

// The exact solution's factors for drag k over the time h. Near k h = 0 their closed forms lose all digits,
// and their series is exact to double precision.
Factors factorsFor(double k, double h) {
  const double kh = k * h;
  if (std::abs(kh) < 1e-3)
    return {1 - kh * (1 - kh / 2 * (1 - kh / 3 * (1 - kh / 4))),
            h * (1 - kh / 2 * (1 - kh / 3 * (1 - kh / 4))),
            h * h * (0.5 - kh / 6 * (1 - kh / 4 * (1 - kh / 5)))};
  const double drift = -std::expm1(-kh) / k;
  return {std::exp(-kh), drift, (h - drift) / k};
}

void setFactors(MotionFactors& factors, double drag, const Durations& durations, const Masses& masses,
                std::size_t count) {
  if (!durations.own && !masses.own) {
    const Factors all = factorsFor(drag / masses.all, durations.all);
    factors.inverseMass = static_cast<float>(1 / masses.all);
    factors.decay = static_cast<float>(all.decay);
    factors.drift = static_cast<float>(all.drift);
    factors.driftGain = static_cast<float>(all.driftGain);
    return;
  }
  factors.perParticle = true;
  for (std::size_t i = 0; i < count; ++i) {
    const Factors own = factorsFor(drag / masses.of(i), durations.of(i));
    factors.inverseMasses[i] = static_cast<float>(1 / masses.of(i));
    factors.decays[i] = static_cast<float>(own.decay);
    factors.drifts[i] = static_cast<float>(own.drift);
    factors.driftGains[i] = static_cast<float>(own.driftGain);
  }
}

}  // namespace

HWY_EXPORT(Move);

void predictMiddle(Chunk& chunk, const Durations& durations) {
  for (int axis = 0; axis < 3; ++axis) {
    const float* x = chunk.fields[ParticleStore::PositionX + axis].data();
    const float* v = chunk.fields[ParticleStore::VelocityX + axis].data();
    float* middle = chunk.middle[axis].data();
    if (durations.own) {
      for (std::size_t i = 0; i < chunk.count; ++i)
        middle[i] = x[i] + v[i] * static_cast<float>(0.5 * durations.own[i]);
    } else {
      const auto half = static_cast<float>(0.5 * durations.all);
      for (std::size_t i = 0; i < chunk.count; ++i) middle[i] = x[i] + v[i] * half;
    }
  }
}

void integrate(Chunk& chunk, const Forces& forces, const Durations& durations, const Masses& masses) {
  MotionFactors factors;
  setFactors(factors, forces.drag, durations, masses, chunk.count);
  HWY_DYNAMIC_DISPATCH(Move)(factors, forces, chunk);
}

}  // namespace comet
#endif
