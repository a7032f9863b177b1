#include "simulation/motion/integrate.h"

#include "simulation/motion/motion_factors.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "simulation/motion/integrate.cpp"
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

// One axis. `own` is a force for each particle, or null.
void MoveAxis(const MotionFactors& factors, float acceleration, float force, const float* own, int axis,
              Chunk& chunk) {
  float* x = chunk.fields[ParticleStore::PositionX + axis].data();
  float* v = chunk.fields[ParticleStore::VelocityX + axis].data();
  if (factors.perParticle)
    own ? moveAxis<true, true>(factors, chunk.count, acceleration, force, own, x, v)
        : moveAxis<true, false>(factors, chunk.count, acceleration, force, own, x, v);
  else
    own ? moveAxis<false, true>(factors, chunk.count, acceleration, force, own, x, v)
        : moveAxis<false, false>(factors, chunk.count, acceleration, force, own, x, v);
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

// Drag of a particle along one axis, at the mass that it has.
void setFactor(MotionFactors& factors, std::size_t i, double drag, double duration, double mass) {
  const Factors own = factorsFor(drag / mass, duration);
  factors.inverseMasses[i] = static_cast<float>(1 / mass);
  factors.decays[i] = static_cast<float>(own.decay);
  factors.drifts[i] = static_cast<float>(own.drift);
  factors.driftGains[i] = static_cast<float>(own.driftGain);
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
  for (std::size_t i = 0; i < count; ++i) setFactor(factors, i, drag, durations.of(i), masses.of(i));
}

}  // namespace

HWY_EXPORT(MoveAxis);

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

namespace {

// All particles have the same drag along all axes.
void moveSimply(Chunk& chunk, const Forces& forces, const Durations& durations, const Masses& masses) {
  MotionFactors factors;
  const double drag = forces.drag.all.x;
  setFactors(factors, drag, durations, masses, chunk.count);
  for (int axis = 0; axis < 3; ++axis) {
    const OwnNumber& own = forces.force.own.axes[axis];
    HWY_DYNAMIC_DISPATCH(MoveAxis)
    (factors, static_cast<float>(forces.acceleration.all[axis]),
     static_cast<float>(forces.force.all[axis] + drag * forces.air.all[axis]),
     own.isUsed() ? own.data() : nullptr, axis, chunk);
  }
}

// What acts on one particle over a substep: dv/dt = push + (drag + bySpeed |air - v|) (air - v).
struct OwnMotion {
  Vec3d push, air, drag;
  double bySpeed;
};

OwnMotion ownMotion(const Forces& forces, std::size_t i, double mass) {
  return {forces.acceleration.of(i) + forces.force.of(i) / mass, forces.air.of(i), forces.drag.of(i) / mass,
          forces.dragBySpeed.of(i) / mass};
}

// The drag, 1/s, of a particle that falls through the air as fast as what pushes it can make it.
double settledDrag(double push, double drag, double bySpeed) {
  return push == 0 ? 0 : 0.5 * (drag + std::sqrt(drag * drag + 4 * bySpeed * push));
}

// Moves a particle whose drag grows with its speed. In each piece of the time drag alone acts, by its closed
// form, and what pushes half before and half after it. The drag that it settles at goes with what pushes, so
// that neither changes the speed at which they balance; so does what goes beyond the drag along other axes.
void moveThroughAir(Chunk& chunk, std::size_t i, const OwnMotion& motion, double duration) {
  const double evenDrag = std::min({motion.drag.x, motion.drag.y, motion.drag.z});
  const double settled = settledDrag(glm::length(motion.push), evenDrag, motion.bySpeed);
  const Vec3d pushedDrag = motion.drag - evenDrag + settled;
  // So short that the speed does not settle within a piece.
  constexpr double kPiecesARate = 4, kMaxPieces = 64;
  const double rate = std::max({pushedDrag.x, pushedDrag.y, pushedDrag.z});
  const double pieces = std::clamp(std::ceil(kPiecesARate * rate * duration), 1.0, kMaxPieces);
  const double length = duration / pieces;
  const Factors even = factorsFor(evenDrag - settled, length);
  Factors kick[3];
  for (int axis = 0; axis < 3; ++axis) kick[axis] = factorsFor(pushedDrag[axis], 0.5 * length);
  Vec3d against = chunk.velocity(i) - motion.air, path = motion.air * duration;
  const auto push = [&] {
    for (int axis = 0; axis < 3; ++axis)
      against[axis] = against[axis] * kick[axis].decay + motion.push[axis] * kick[axis].drift;
  };
  for (int piece = 0; piece < static_cast<int>(pieces); ++piece) {
    push();
    const double slowing = motion.bySpeed * glm::length(against);
    path += against * (slowing * even.drift > 1e-9 ? std::log1p(slowing * even.drift) / slowing : even.drift);
    against *= even.decay / (1 + slowing * even.drift);
    push();
  }
  chunk.setPosition(i, chunk.position(i) + path);
  chunk.setVelocity(i, motion.air + against);
}

void moveEachItsOwnWay(Chunk& chunk, const Forces& forces, const Durations& durations, const Masses& masses) {
  std::array<MotionFactors, 3> factors;
  std::array<ChunkArray, 3> own;
  for (MotionFactors& axis : factors) axis.perParticle = true;
  for (std::size_t i = 0; i < chunk.count; ++i) {
    const double duration = durations.of(i);
    OwnMotion motion = ownMotion(forces, i, masses.of(i));
    const bool isMoved = motion.bySpeed > 0;
    if (isMoved) moveThroughAir(chunk, i, motion, duration);
    // Air that is answered to the wrong way round drives on, as hard as at the speed that it begins with.
    if (motion.bySpeed < 0) motion.drag += motion.bySpeed * glm::length(motion.air - chunk.velocity(i));
    for (int axis = 0; axis < 3; ++axis) {
      own[axis][i] = static_cast<float>(motion.push[axis] + motion.drag[axis] * motion.air[axis]);
      setFactor(factors[axis], i, motion.drag[axis], isMoved ? 0 : duration, 1);
    }
  }
  for (int axis = 0; axis < 3; ++axis)
    HWY_DYNAMIC_DISPATCH(MoveAxis)(factors[axis], 0.0F, 0.0F, own[axis].data(), axis, chunk);
}

// The fraction of a spring's pull in the middle of a step that lets it swing at its own rate; `angle` is by
// how much it would swing in the step, rad, squared.
double springFraction(double squaredAngle) {
  constexpr double kExact = 1.5, kMax = 2.6;
  if (squaredAngle < 1e-9) return 1;
  double angle = std::sqrt(squaredAngle);
  if (angle > kExact) angle = kExact + (kMax - kExact) * -std::expm1(-(angle - kExact) / (kMax - kExact));
  const double half = std::sin(0.5 * angle);
  return 4 * half * half / squaredAngle;
}

// Makes springs plain forces.
void settleSprings(const Chunk& chunk, Forces& forces, const Durations& durations, const Masses& masses) {
  if (forces.spring.all == Vec3d(0.0) && !forces.spring.own.isUsed()) return;
  forces.force.addEach({}, chunk.count, [&](std::size_t i) {
    const double duration = durations.of(i);
    return forces.spring.of(i) * springFraction(forces.stiffness.of(i) / masses.of(i) * duration * duration);
  });
}

Vec3d turned(const Vec3d& v, const Vec3d& axis, double angle) {
  const double cosine = std::cos(angle), sine = std::sin(angle);
  return v * cosine + glm::cross(axis, v) * sine + axis * (glm::dot(axis, v) * (1 - cosine));
}

// Half of the substep's turn. Before the motion the way is corrected too: on its arc a particle comes less
// far than straight on.
void turnHalf(Chunk& chunk, const Forces& forces, const Durations& durations, bool isBefore) {
  for (std::size_t i = 0; i < chunk.count; ++i) {
    const Vec3d turn = forces.turn.of(i);
    const double rate = glm::length(turn), half = 0.5 * rate * durations.of(i);
    if (half == 0) continue;
    const Vec3d axis = turn / rate;
    const Vec3d velocity = turned(chunk.velocity(i), axis, half);
    chunk.setVelocity(i, velocity);
    if (!isBefore) continue;
    const Vec3d across = velocity - axis * glm::dot(axis, velocity);
    chunk.setPosition(i, chunk.position(i) + across * (durations.of(i) * (std::sin(half) / half - 1)));
  }
}

}  // namespace

void integrate(Chunk& chunk, Forces& forces, const Durations& durations, const Masses& masses) {
  settleSprings(chunk, forces, durations, masses);
  const bool turns = forces.turn.all != Vec3d(0.0) || forces.turn.own.isUsed();
  if (turns) turnHalf(chunk, forces, durations, true);
  if (forces.areSimple())
    moveSimply(chunk, forces, durations, masses);
  else
    moveEachItsOwnWay(chunk, forces, durations, masses);
  if (turns) turnHalf(chunk, forces, durations, false);
}

}  // namespace comet
#endif
