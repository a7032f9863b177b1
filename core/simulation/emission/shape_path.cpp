#include "simulation/emission/shape_path.h"

#include "base/random.h"
#include "simulation/emission/launch.h"
#include "simulation/frame/cycles.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <glm/matrix.hpp>

namespace comet {
namespace {

// Into how many straight pieces the path of a moving shape is cut within a frame.
constexpr int kPathPieces = 8;

bool rests(const Item& emitter) {
  const auto isKeyed = [&emitter](const char* param) { return !emitter.value(param).keys.empty(); };
  const bool wanders = isKeyed("wander") || emitter.number("wander", 0) > 0;
  return !wanders && !isKeyed("position") && !isKeyed("rotation") && !isKeyed("scale");
}

// A point inside the ball of radius 1, evenly spread, for each whole number.
Vec3d strayPoint(std::int64_t index, std::uint64_t key) {
  const RandomSource random(key);
  const auto counter = static_cast<std::uint64_t>(index);
  const Vec3d direction = directionInCone(Vec3d(0, 1, 0), kPi, random.unit(counter, Draw::ShapeA),
                                          random.unit(counter, Draw::ShapeB));
  return direction * std::cbrt(random.unit(counter, Draw::ShapeC));
}

// How far a shape that wanders by 1 is from its place: a smooth path through random points (Catmull and Rom,
// "A class of local interpolating splines", 1974), one for each unit of time, which comes near 1 and never
// leaves it. Repeats after `rounds` points if there are any.
Vec3d strayAt(double time, std::uint32_t rounds, std::uint64_t key) {
  const double whole = std::floor(time), t = time - whole;
  const auto point = [&](int offset) {
    const auto index = static_cast<std::int64_t>(whole) + offset;
    return strayPoint(rounds > 0 ? (index % rounds + rounds) % rounds : index, key);
  };
  const Vec3d a = point(-1), b = point(0), c = point(1), d = point(2);
  const Vec3d at =
      b + 0.5 * t * (c - a + t * (2.0 * a - 5.0 * b + 4.0 * c - d + t * (3.0 * (b - c) + d - a)));
  // Between its points the path bulges out; what is beyond is pressed back in.
  constexpr double kFree = 0.85;
  const double away = glm::length(at);
  if (away <= kFree) return at;
  return at / away * (kFree + (1 - kFree) * std::tanh((away - kFree) / (1 - kFree)));
}

ShapePath::Placement lerp(const ShapePath::Placement& a, const ShapePath::Placement& b, double t) {
  return {a.position * (1 - t) + b.position * t, a.rotation * (1 - t) + b.rotation * t,
          a.frame * (1 - t) + b.frame * t};
}

}  // namespace

ShapePath::Placement keyedPose(const Item& emitter, double frame) {
  ShapePath::Placement pose;
  pose.position = emitter.vector("position", frame);
  pose.rotation = rotationFromDegrees(emitter.vector("rotation", frame));
  const Vec3d scale = emitter.vector("scale", frame);
  for (int axis = 0; axis < 3; ++axis) pose.frame[axis] = pose.rotation[axis] * scale[axis];
  return pose;
}

ShapePath::Placement poseAt(const Item& emitter, double frame, double frameRate, std::uint64_t wanderKey,
                            double period) {
  ShapePath::Placement pose = keyedPose(emitter, frame);
  if (const double wander = emitter.number("wander", frame); wander > 0) {
    const double speed = wholeCycles(emitter.number("wander_rate", frame), period);
    const auto rounds = period > 0 ? static_cast<std::uint32_t>(cyclesOf(speed, period)) : 0U;
    Vec3d stray = strayAt(frame / frameRate * speed, rounds, wanderKey);
    if (emitter.kind->find("launch_space") && emitter.chooses("launch_space", "2d")) stray.z = 0;
    pose.position += wander * stray;
  }
  return pose;
}

ShapePath::Placement ShapePath::at(double fraction) const {
  if (poses.size() == 1) return poses.front();
  const double spot = fraction * static_cast<double>(poses.size() - 1);
  const std::size_t i = std::min(static_cast<std::size_t>(spot), poses.size() - 2);
  return lerp(poses[i], poses[i + 1], spot - static_cast<double>(i));
}

Vec3d ShapePath::velocity(const Vec3d& local, double fraction) const {
  if (poses.size() == 1) return Vec3d(0.0);
  // Over a piece around the moment, which lies within the frame.
  const double piece = 1.0 / static_cast<double>(poses.size() - 1);
  const double from = std::clamp(fraction - piece / 2, 0.0, 1 - piece);
  return (at(from + piece).toScene(local) - at(from).toScene(local)) / (piece * frameSeconds);
}

Vec3d ShapePath::normalInScene(const Placement& pose, const Vec3d& normal) {
  // A shape scaled to nothing along an axis keeps the turned normal.
  const bool isFlat = std::abs(glm::determinant(pose.frame)) < 1e-12;
  return unitOr(isFlat ? pose.rotation * normal : glm::transpose(glm::inverse(pose.frame)) * normal,
                Vec3d(0, 1, 0));
}

void ShapePath::describe(Hasher& hasher) const {
  hasher << frameSeconds << poses.size();
  for (const Placement& pose : poses) {
    hasher << pose.position.x << pose.position.y << pose.position.z;
    for (const Mat3d* matrix : {&pose.rotation, &pose.frame})
      for (int column = 0; column < 3; ++column)
        hasher << (*matrix)[column].x << (*matrix)[column].y << (*matrix)[column].z;
  }
}

ShapePath shapePath(const Item& emitter, const FrameTime& time, double frameRate, std::uint64_t wanderKey) {
  ShapePath path;
  path.frameSeconds = 1.0 / frameRate;
  const int pieces = rests(emitter) ? 0 : kPathPieces;
  for (int i = 0; i <= pieces; ++i)
    path.poses.push_back(poseAt(emitter,
                                pieces == 0 ? time.frame : time.frame - 1 + static_cast<double>(i) / pieces,
                                frameRate, wanderKey, time.period));
  return path;
}

}  // namespace comet
