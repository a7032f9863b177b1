#include "simulation/motion/forces.h"

#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

void addTo(float* numbers, double amount, const float* weights, std::size_t count) {
  const auto factor = static_cast<float>(amount);
  for (std::size_t i = 0; i < count; ++i) numbers[i] += factor * weights[i];
}

}  // namespace

void Contribution::add(const Vec3d& amount, const Weights& weights, std::size_t count) {
  if (!weights.own) {
    all += amount * weights.all;
    return;
  }
  for (int axis = 0; axis < 3; ++axis)
    if (amount[axis] != 0) addTo(own.axes[axis].use(), amount[axis], weights.own, count);
}

void NumberContribution::add(double amount, const Weights& weights, std::size_t count) {
  if (weights.own)
    addTo(own.use(), amount, weights.own, count);
  else
    all += amount * weights.all;
}

void Forces::clear() {
  for (Contribution* contribution : {&acceleration, &force, &spring, &air, &drag, &turn})
    contribution->clear();
  stiffness.clear();
  dragBySpeed.clear();
}

void Forces::addWind(const Vec3d& velocity, double airDrag, const Weights& weights, std::size_t count) {
  air.add(velocity, weights, count);
  if (!airHolds) return;
  // Air that is answered to the wrong way round holds on to particles as firmly.
  if (!weights.own) return drag.add(Vec3d(airDrag), {std::abs(weights.all), nullptr}, count);
  for (OwnNumber& axis : drag.own.axes) {
    float* numbers = axis.use();
    for (std::size_t i = 0; i < count; ++i)
      numbers[i] += static_cast<float>(airDrag) * std::abs(weights.own[i]);
  }
}

void Forces::flatten() {
  for (Contribution* part : {&acceleration, &force, &spring, &air}) {
    part->all.z = 0;
    part->own.axes[2].clear();
  }
  turn.all.x = turn.all.y = 0;
  turn.own.axes[0].clear();
  turn.own.axes[1].clear();
}

bool Forces::areSimple() const {
  return !acceleration.own.isUsed() && !air.own.isUsed() && !drag.own.isUsed() && !dragBySpeed.isUsed() &&
         drag.all == Vec3d(drag.all.x);
}

Vec3d Forces::accelerationOn(std::size_t i, const Vec3d& velocity, double mass) const {
  const Vec3d against = air.of(i) - velocity;
  const Vec3d k = drag.of(i) + dragBySpeed.of(i) * glm::length(against);
  return acceleration.of(i) + (force.of(i) + spring.of(i) + k * against) / mass +
         glm::cross(turn.of(i), velocity);
}

}  // namespace comet
