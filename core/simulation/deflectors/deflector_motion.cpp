#include "simulation/deflectors/deflector_motion.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <glm/gtc/quaternion.hpp>
#include <glm/matrix.hpp>

namespace comet {

DeflectorMotion::DeflectorMotion(const Vec3d& place, const Mat3d& turn, const Vec3d& nextPlace,
                                 const Mat3d& nextTurn, double seconds)
    : place_(nextPlace), turn_(nextTurn) {
  if (!(seconds > 0)) return;
  place_ = place;
  turn_ = turn;
  way_ = nextPlace - place;
  const Mat3d between = nextTurn * glm::transpose(turn);
  const double cosine = std::clamp(0.5 * (between[0][0] + between[1][1] + between[2][2] - 1), -1.0, 1.0);
  angle_ = std::acos(cosine);
  // The shorter way round; half a turn in a step goes about whatever axis the numbers give.
  const glm::dquat quaternion = glm::quat_cast(between);
  axis_ = unitOr(Vec3d(quaternion.x, quaternion.y, quaternion.z) * (quaternion.w < 0 ? -1.0 : 1.0),
                 Vec3d(0, 1, 0));
  if (angle_ < 1e-9) angle_ = 0;
  velocity_ = way_ / seconds;
  spin_ = angle_ / seconds;
  moves_ = way_ != Vec3d(0.0) || angle_ > 0;
}

Pose DeflectorMotion::at(double fraction) const {
  if (!moves_) return {place_, turn_};
  if (angle_ == 0) return {place_ + way_ * fraction, turn_};
  return {place_ + way_ * fraction, Mat3d(glm::mat3_cast(glm::angleAxis(angle_ * fraction, axis_))) * turn_};
}

Vec3d DeflectorMotion::velocityAt(const Vec3d& position, const Pose& pose) const {
  if (!moves_) return Vec3d(0.0);
  return velocity_ + glm::cross(axis_ * spin_, position - pose.position);
}

Vec3d DeflectorMotion::accelerationAt(const Vec3d& position, const Pose& pose, const Vec3d& over) const {
  if (angle_ == 0) return Vec3d(0.0);
  const Vec3d spin = axis_ * spin_;
  return glm::cross(spin, glm::cross(spin, position - pose.position) + 2.0 * over);
}

double DeflectorMotion::maxSpeed(double reach) const {
  return moves_ ? glm::length(velocity_) + spin_ * reach : 0;
}

void DeflectorMotion::describe(Hasher& hasher) const {
  hasher << moves_ << place_ << way_ << axis_ << angle_ << velocity_;
  for (int column = 0; column < 3; ++column) hasher << Vec3d(turn_[column]);
}

}  // namespace comet
