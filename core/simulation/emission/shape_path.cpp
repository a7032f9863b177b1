#include "simulation/emission/shape_path.h"

#include "base/noise.h"
#include "simulation/loop.h"

#include <algorithm>
#include <cmath>
#include <glm/matrix.hpp>

namespace comet {
namespace {

// Into how many straight pieces the path of a moving shape is cut within a frame.
constexpr int kPieces = 8;

bool rests(const Item& emitter) {
  const auto isKeyed = [&emitter](const char* param) { return !emitter.value(param).keys.empty(); };
  const bool wanders = isKeyed("wander") || emitter.number("wander", 0) > 0;
  return !wanders && !isKeyed("place") && !isKeyed("turn") && !isKeyed("scale");
}

ShapePath::Pose mixed(const ShapePath::Pose& a, const ShapePath::Pose& b, double t) {
  return {a.place * (1 - t) + b.place * t, a.turn * (1 - t) + b.turn * t, a.frame * (1 - t) + b.frame * t};
}

}  // namespace

ShapePath::Pose keyedPose(const Item& emitter, double frame) {
  ShapePath::Pose pose;
  pose.place = emitter.vector("place", frame);
  pose.turn = rotationFromDegrees(emitter.vector("turn", frame));
  const Vec3d scale = emitter.vector("scale", frame);
  for (int axis = 0; axis < 3; ++axis) pose.frame[axis] = pose.turn[axis] * scale[axis];
  return pose;
}

ShapePath::Pose poseAt(const Item& emitter, double frame, double frameRate, std::uint64_t wanderKey,
                       double period) {
  ShapePath::Pose pose = keyedPose(emitter, frame);
  if (const double wander = emitter.number("wander", frame); wander > 0) {
    const double speed = wholeRounds(emitter.number("wander_speed", frame), period);
    const double time = frame / frameRate * speed;
    // Off the lattice's axis, so that the noise does not return to zero at each whole number.
    pose.place +=
        wander * (period > 0 ? repeatingNoise3({time, 0.37, 0.71}, {roundsOf(speed, period), 1, 1}, wanderKey)
                             : smoothNoise3({time, 0.37 + 0.21 * time, 0.71}, wanderKey));
  }
  return pose;
}

ShapePath::Pose ShapePath::at(double share) const {
  if (poses.size() == 1) return poses.front();
  const double position = share * static_cast<double>(poses.size() - 1);
  const std::size_t i = std::min(static_cast<std::size_t>(position), poses.size() - 2);
  return mixed(poses[i], poses[i + 1], position - static_cast<double>(i));
}

Vec3d ShapePath::velocity(const Vec3d& local, double share) const {
  if (poses.size() == 1) return Vec3d(0.0);
  // Over a piece around the moment, which lies within the frame.
  const double piece = 1.0 / static_cast<double>(poses.size() - 1);
  const double from = std::clamp(share - piece / 2, 0.0, 1 - piece);
  return (at(from + piece).toScene(local) - at(from).toScene(local)) / (piece * frameSeconds);
}

Vec3d ShapePath::normalInScene(const Pose& pose, const Vec3d& normal) {
  // A shape scaled to nothing along an axis keeps the turned normal.
  const bool isFlat = std::abs(glm::determinant(pose.frame)) < 1e-12;
  return unitOr(isFlat ? pose.turn * normal : glm::transpose(glm::inverse(pose.frame)) * normal,
                Vec3d(0, 1, 0));
}

void ShapePath::describe(Hasher& hasher) const {
  hasher << frameSeconds << poses.size();
  for (const Pose& pose : poses) {
    hasher << pose.place.x << pose.place.y << pose.place.z;
    for (const Mat3d* matrix : {&pose.turn, &pose.frame})
      for (int column = 0; column < 3; ++column)
        hasher << (*matrix)[column].x << (*matrix)[column].y << (*matrix)[column].z;
  }
}

ShapePath shapePath(const Item& emitter, const FrameTime& time, double frameRate, std::uint64_t wanderKey) {
  ShapePath path;
  path.frameSeconds = 1.0 / frameRate;
  const int pieces = rests(emitter) ? 0 : kPieces;
  for (int i = 0; i <= pieces; ++i)
    path.poses.push_back(poseAt(emitter,
                                pieces == 0 ? time.frame : time.frame - 1 + static_cast<double>(i) / pieces,
                                frameRate, wanderKey, time.period));
  return path;
}

}  // namespace comet
