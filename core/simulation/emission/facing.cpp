#include "simulation/emission/facing.h"

#include "simulation/emission/launch.h"

#include <array>
#include <glm/gtc/quaternion.hpp>
#include <string_view>

namespace comet {

Facing facingOf(const Item& emitter) {
  return emitter.choiceAs<Facing>(
      "facing",
      std::array<std::string_view, 5>{"camera", "velocity", "launch_direction", "plane", "tumbling"});
}

Vec3d planeNormalOf(const Item& emitter, double frame) {
  return unitOr(emitter.vector("plane_normal", frame), Vec3d(0, 1, 0));
}

Vec3d tumblingAxis(ParticleId id, const RandomSource& random) {
  return directionInCone(Vec3d(0, 1, 0), kPi, random.unit(id, Draw::TumbleA), random.unit(id, Draw::TumbleB));
}

Mat3d standing(const Vec3d& up, double angle) {
  return turnedTo(up) * glm::mat3_cast(glm::angleAxis(angle, Vec3d(0, 1, 0)));
}

}  // namespace comet
