#include "simulation/emission/launch.h"

#include "base/noise.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

Vec3d turnedAbout(const Vec3d& v, const Vec3d& axis, double angle) {
  // Rodrigues.
  return v * std::cos(angle) + glm::cross(axis, v) * std::sin(angle) +
         axis * (glm::dot(axis, v) * (1 - std::cos(angle)));
}

}  // namespace

Vec3d directionInCone(const Vec3d& axis, double cone, double a, double b) {
  if (cone <= 0) return axis;
  const double cosine = 1 - a * (1 - std::cos(cone));
  const double sine = std::sqrt(std::max(0.0, 1 - cosine * cosine));
  Vec3d first, second;
  perpendiculars(axis, first, second);
  return axis * cosine + (first * std::cos(2 * kPi * b) + second * std::sin(2 * kPi * b)) * sine;
}

Launch::Launch(const Item& emitter, double frame, std::uint64_t randomKey)
    : random_(randomKey),
      isFlat_(emitter.chooses("launch_space", "2d")),
      direction_(unitOr(emitter.vector("direction", frame), Vec3d(0, 1, 0))),
      cone_(radians(emitter.number("cone", frame))),
      speed_{emitter.number("speed", frame), emitter.value("speed").variation,
             emitter.particleFormula("speed", frame)},
      noiseTurn_(radians(emitter.number("launch_noise_direction", frame))),
      noiseSpeed_(emitter.number("launch_noise_speed", frame) / 100.0),
      noiseScale_(emitter.number("launch_noise_scale", frame)) {
  static constexpr std::array<std::string_view, 5> kNames{"direction", "normal", "outward", "tangential",
                                                          "random"};
  path_ = emitter.choiceAs<LaunchWay>("launch", kNames);
  const auto& spread = std::get<Curve>(emitter.value("speed_distribution").base);
  if (spread != Curve::constant(1)) speedSpread_.emplace(spread);
}

Vec3d Launch::path(std::uint64_t birth, const ShapePoint& point, const ShapePath::Placement& pose) const {
  const Vec3d fallback = unitOr(pose.rotation * direction_, Vec3d(0, 1, 0));
  switch (path_) {
    case LaunchWay::Fixed:
      return fallback;
    case LaunchWay::Normal:
      return ShapePath::normalInScene(pose, point.normal);
    case LaunchWay::Outward:
      return unitOr(pose.frame * point.at, fallback);
    case LaunchWay::Around:
      return unitOr(glm::cross(fallback, pose.frame * point.at), fallback);
    case LaunchWay::Any: {
      const double a = random_.unit(birth, Draw::DirectionA), b = random_.unit(birth, Draw::DirectionB);
      if (isFlat_) return {std::cos(2 * kPi * a), std::sin(2 * kPi * a), 0};
      return directionInCone(Vec3d(0, 1, 0), kPi, a, b);
    }
  }
  return fallback;
}

Vec3d Launch::spread(const Vec3d& path, std::uint64_t birth) const {
  if (path_ == LaunchWay::Any) return path;
  if (!isFlat_)
    return directionInCone(path, cone_, random_.unit(birth, Draw::DirectionA),
                           random_.unit(birth, Draw::DirectionB));
  const Vec3d flat = unitOr(Vec3d(path.x, path.y, 0), Vec3d(0, 1, 0));
  return turnedAbout(flat, Vec3d(0, 0, 1), cone_ * random_.signedUnit(birth, Draw::DirectionA));
}

Vec3d Launch::velocity(std::uint64_t birth, const ShapePoint& point, const ShapePath::Placement& pose,
                       Vec3d& direction) const {
  direction = unitOr(spread(path(birth, point, pose), birth), Vec3d(0, 1, 0));
  const double unit = random_.unit(birth, Draw::Speed);
  double speed = speed_.pick(2 * (speedSpread_ ? speedSpread_->at(unit) : unit) - 1,
                             birthMoment(birth, pose.toScene(point.at)));
  if (noiseTurn_ > 0 || noiseSpeed_ > 0) {
    const Vec3d place = point.at / noiseScale_;
    const std::uint64_t pattern = combineKeys(random_.key(), static_cast<std::uint64_t>(Draw::LaunchNoise));
    if (noiseSpeed_ > 0) speed *= 1 + noiseSpeed_ * smoothNoise(place, pattern);
    const Vec3d turn =
        isFlat_ ? Vec3d(0, 0, smoothNoise(place, combineKeys(pattern, 3))) : smoothNoise3(place, pattern);
    const double angle = noiseTurn_ * std::min(1.0, glm::length(turn));
    if (angle > 0) direction = turnedAbout(direction, glm::normalize(turn), angle);
  }
  return direction * speed;
}

void Launch::describe(Hasher& hasher) const {
  hasher << random_.key() << path_ << isFlat_ << direction_ << cone_ << noiseTurn_ << noiseSpeed_
         << noiseScale_;
  speed_.describe(hasher);
  if (speedSpread_) speedSpread_->describe(hasher);
}

}  // namespace comet
