// A particle on its way through a substep, and a deflector as that particle meets it.
//
// Places, velocities and normals are in the scene's space unless they are said to be a deflector's own.
#pragma once

#include "simulation/deflectors/deflect.h"
#include "simulation/deflectors/rolling_friction.h"
#include "simulation/deflectors/support.h"

#include <array>
#include <cmath>
#include <limits>

namespace comet {

// A particle on its way.
struct Traveller {
  Vec3d at{0.0}, velocity{0.0}, acceleration{0.0};
  double time = 0;  // seconds since the scene's first frame
  double left = 0;  // seconds until the substep's end
  ParticleId id = 0;
  double held = 0;    // as ParticleStore::Held
  double pushed = 0;  // the speed that other particles gave it as the substep began
  Ball ball{};

  bool isLetGo() const { return held < 0; }
  Vec3d placeAfter(double t) const { return at + velocity * t + acceleration * (0.5 * t * t); }
  void goOn(double t) {
    at = placeAfter(t);
    velocity += acceleration * t;
    time += t;
    left -= t;
  }
};

// A deflector, and how it stands at the moments of a substep at which most particles ask for it. Used by one
// thread at a time.
class PosedDeflector {
 public:
  PosedDeflector(const ActingDeflector& acting, double start, double length)
      : acting_(&acting), moments_{start, start + 0.5 * length, start + length, start} {
    for (std::size_t i = 0; i <= kFixed; ++i) poses_[i] = computed(moments_[i]);
  }

  const ActingDeflector& acting() const { return *acting_; }
  const Deflector& deflector() const { return *acting_->deflector; }
  const Pose& at(double time) const {
    for (std::size_t i = 0; i < kFixed; ++i)
      if (moments_[i] == time) return poses_[i];
    if (moments_[kFixed] != time) {
      moments_[kFixed] = time;
      poses_[kFixed] = computed(time);
    }
    return poses_[kFixed];
  }

 private:
  Pose computed(double time) const { return deflector().motion().at(deflector().fractionAt(time)); }

  static constexpr std::size_t kFixed = 3;

  const ActingDeflector* acting_;
  // Behind the fixed ones the moment that was asked for last: who asks for one asks for it several times.
  mutable std::array<double, kFixed + 1> moments_;
  mutable std::array<Pose, kFixed + 1> poses_;
};

// A deflector as one particle meets it.
struct Met {
  const PosedDeflector* posed = nullptr;
  double clearance = 0;  // from the surface at which the particle is stopped

  const ActingDeflector& acting() const { return posed->acting(); }
  const Deflector& deflector() const { return posed->deflector(); }
  // Valid until another moment is asked for.
  const Pose& poseAt(double time) const { return posed->at(time); }
  // How far the particle may still go, and the normal there in the scene. A mesh is not looked for beyond
  // `within`.
  SurfaceDistance gapAt(const Vec3d& position, double time,
                        double within = std::numeric_limits<double>::infinity()) const {
    const Pose pose = poseAt(time);
    const SurfaceDistance own = deflector().shape().at(pose.toOwn(position), within + clearance);
    return {own.distance - clearance, pose.rotation * own.normal};
  }
  // As gapAt, for a particle on the surface: found sooner if it is looked for close by first.
  SurfaceDistance gapOn(const Vec3d& position, double time) const {
    const SurfaceDistance close = gapAt(position, time, 4 * deflector().skin());
    return std::isinf(close.distance) ? gapAt(position, time) : close;
  }
  // As gapOn, of one of the shape's parts.
  SurfaceDistance gapOnPart(int part, const Vec3d& position, double time) const {
    if (!deflector().shape().hasParts()) return gapOn(position, time);
    const Pose pose = poseAt(time);
    std::array<SurfacePart, DeflectorShape::kMaxParts> parts;
    deflector().shape().parts(pose.toOwn(position), parts);
    const SurfacePart& own = parts[static_cast<std::size_t>(part)];
    return {own.distance - clearance, pose.rotation * own.normal};
  }
  // Calls `touches(part, normal)` for each of its parts that a particle touches.
  template <typename Touches>
  void forEachTouched(const Vec3d& position, double time, const Touches& touches) const {
    const double reach = 2 * touching();
    if (!deflector().shape().hasParts()) {
      const SurfaceDistance gap = gapAt(position, time, reach);
      if (gap.distance <= reach) touches(0, gap.normal);
      return;
    }
    const Pose pose = poseAt(time);
    std::array<SurfacePart, DeflectorShape::kMaxParts> parts;
    const int count = deflector().shape().parts(pose.toOwn(position), parts);
    for (int part = 0; part < count; ++part) {
      const SurfacePart& own = parts[static_cast<std::size_t>(part)];
      if (own.distance - clearance <= reach) touches(part, pose.rotation * own.normal);
    }
  }
  Vec3d velocityAt(const Vec3d& position, double time) const {
    return deflector().motion().velocityAt(position, poseAt(time));
  }
  // So near counts as touching.
  double touching() const {
    constexpr double kFractionOfSkin = 0.25;
    return kFractionOfSkin * deflector().skin();
  }

  // A particle's motion as the material sees it that it touches.
  Motion relativeOf(const Traveller& traveller) const {
    const Pose pose = poseAt(traveller.time);
    const DeflectorMotion& motion = deflector().motion();
    const Vec3d velocity = traveller.velocity - motion.velocityAt(traveller.at, pose);
    return {velocity, traveller.acceleration - motion.accelerationAt(traveller.at, pose, velocity)};
  }
};

}  // namespace comet
