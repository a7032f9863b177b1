// How particles that roll turn, and how far they have turned so far: balls, whose moment of inertia is 2/5 of
// mass times radius squared.
#pragma once

#include "particles/particle_store.h"

#include <algorithm>
#include <cmath>
#include <glm/gtc/quaternion.hpp>

namespace comet {

// Over how many times the speed along a surface a ball's surface changes where friction takes some of that
// speed: the impulse moves its middle and turns it.
inline constexpr double kBallTurning = 2.5;

// The fields of a particle that may roll.
FieldSet rollingFields();

// Of one of the particles of a store, or of a chunk of one, that has these fields.

// In rad/s about each axis.
template <typename Particles>
Vec3d rollOf(const Particles& particles, std::size_t i) {
  using Fields = ParticleFields;
  return {particles.field(Fields::RollX)[i], particles.field(Fields::RollY)[i],
          particles.field(Fields::RollZ)[i]};
}

template <typename Particles>
void setRoll(Particles& particles, std::size_t i, const Vec3d& roll) {
  using Fields = ParticleFields;
  particles.field(Fields::RollX)[i] = static_cast<float>(roll.x);
  particles.field(Fields::RollY)[i] = static_cast<float>(roll.y);
  particles.field(Fields::RollZ)[i] = static_cast<float>(roll.z);
}

// How it has turned since its birth.
template <typename Particles>
glm::dquat orientationOf(const Particles& particles, std::size_t i) {
  using Fields = ParticleFields;
  const Vec3d axis(particles.field(Fields::OrientX)[i], particles.field(Fields::OrientY)[i],
                   particles.field(Fields::OrientZ)[i]);
  return {std::sqrt(std::max(0.0, 1 - glm::dot(axis, axis))), axis.x, axis.y, axis.z};
}

template <typename Particles>
void setOrientation(Particles& particles, std::size_t i, const glm::dquat& orientation) {
  using Fields = ParticleFields;
  // Both signs mean the same.
  const double sign = orientation.w < 0 ? -1 : 1;
  particles.field(Fields::OrientX)[i] = static_cast<float>(sign * orientation.x);
  particles.field(Fields::OrientY)[i] = static_cast<float>(sign * orientation.y);
  particles.field(Fields::OrientZ)[i] = static_cast<float>(sign * orientation.z);
}

// An orientation after a particle has rolled on for so many seconds.
glm::dquat turnedOn(const glm::dquat& orientation, const Vec3d& roll, double seconds);

}  // namespace comet
