// What is remembered of a particle that an influence brings to a point of its own.
#pragma once

#include "particles/particle_store.h"

#include <algorithm>
#include <cstdint>
#include <optional>

namespace comet {

// Points have numbers up to this; as floats they are exact.
inline constexpr std::uint32_t kMaxArrivalPoint = 1U << 24;

enum class ArrivalStage {
  None,      // not asked to arrive, or not any more
  Waiting,   // for a point: till the next step, or till one is free
  Led,       // to its point, or held there
  Released,  // from it, by an influence that still acts on it
};

struct Arrival {
  std::uint32_t influence = 0;  // 0 for none
  ArrivalStage stage = ArrivalStage::None;
  std::uint32_t point = 0;  // of one that is or was led
  // Up to 1 the fraction of its travel time; above that 1 and the seconds for which it has been held.
  double progress = 0;
  Vec3d from{0.0};   // where it would have been as its travel time began, had it always been
  Vec3d speed{0.0};  // so fast, units/s

  // 0 to 1, 1 at its point.
  double travelled() const { return std::min(1.0, progress); }
  bool operator==(const Arrival&) const = default;
  bool isHeld() const { return stage == ArrivalStage::Led && progress >= 1; }
};

inline FieldSet arrivalFields() {
  using Fields = ParticleFields;
  return {Fields::ArriveBy,     Fields::ArriveStage, Fields::ArrivePoint, Fields::ArriveProgress,
          Fields::ArriveFromX,  Fields::ArriveFromY, Fields::ArriveFromZ, Fields::ArriveSpeedX,
          Fields::ArriveSpeedY, Fields::ArriveSpeedZ};
}

// Of one of the particles of a store, or of a chunk of one, that has these fields.

template <typename Particles>
Arrival arrivalOf(const Particles& particles, std::size_t i) {
  using Fields = ParticleFields;
  const auto triple = [&](Fields::Field x, Fields::Field y, Fields::Field z) {
    return Vec3d(particles.field(x)[i], particles.field(y)[i], particles.field(z)[i]);
  };
  Arrival arrival;
  arrival.influence = static_cast<std::uint32_t>(particles.field(Fields::ArriveBy)[i]);
  arrival.stage = static_cast<ArrivalStage>(particles.field(Fields::ArriveStage)[i]);
  arrival.point = static_cast<std::uint32_t>(particles.field(Fields::ArrivePoint)[i]);
  arrival.progress = particles.field(Fields::ArriveProgress)[i];
  arrival.from = triple(Fields::ArriveFromX, Fields::ArriveFromY, Fields::ArriveFromZ);
  arrival.speed = triple(Fields::ArriveSpeedX, Fields::ArriveSpeedY, Fields::ArriveSpeedZ);
  return arrival;
}

template <typename Particles>
void setArrival(Particles& particles, std::size_t i, const Arrival& arrival) {
  using Fields = ParticleFields;
  const auto set = [&](Fields::Field field, double value) {
    particles.field(field)[i] = static_cast<float>(value);
  };
  set(Fields::ArriveBy, arrival.influence);
  set(Fields::ArriveStage, static_cast<int>(arrival.stage));
  set(Fields::ArrivePoint, arrival.point);
  set(Fields::ArriveProgress, arrival.progress);
  for (int axis = 0; axis < 3; ++axis) {
    set(static_cast<Fields::Field>(Fields::ArriveFromX + axis), arrival.from[axis]);
    set(static_cast<Fields::Field>(Fields::ArriveSpeedX + axis), arrival.speed[axis]);
  }
}

}  // namespace comet
