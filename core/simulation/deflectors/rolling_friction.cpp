#include "simulation/deflectors/rolling_friction.h"

#include "particles/rolling.h"

#include <algorithm>
#include <glm/geometric.hpp>

namespace comet {

Vec3d slipOf(const Ball& ball, const Vec3d& along, const Vec3d& normal) {
  return along - ball.radius * glm::cross(ball.roll, normal);
}

Vec3d afterFriction(const Vec3d& along, const Vec3d& normal, double most, Ball& ball) {
  const Vec3d slip = slipOf(ball, along, normal);
  const double slipping = glm::length(slip);
  if (!(slipping > 0)) return along;
  const Vec3d lost = slip / slipping * std::min(most, slipping / (1 + kBallTurning));
  ball.roll += glm::cross(normal, lost) * (kBallTurning / ball.radius);
  return along - lost;
}

Vec3d afterRolling(const Vec3d& along, const Vec3d& normal, double most, Ball& ball) {
  const double speed = glm::length(along);
  // What slows the middle slows the turning with it, so that a ball takes longer than what only slides.
  const double max = most / (1 + 1 / kBallTurning);
  const Vec3d lost = speed > 0 ? along / speed * std::min(speed, max) : Vec3d(0.0);
  ball.roll -= glm::cross(normal, lost) / ball.radius;
  const double spin = glm::dot(ball.roll, normal);
  ball.roll -= normal * std::clamp(spin, -max / ball.radius, max / ball.radius);
  return along - lost;
}

}  // namespace comet
