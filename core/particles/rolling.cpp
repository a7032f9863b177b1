#include "particles/rolling.h"

#include <glm/geometric.hpp>

namespace comet {

FieldSet rollingFields() {
  return {ParticleStore::RollX,   ParticleStore::RollY,   ParticleStore::RollZ,
          ParticleStore::OrientX, ParticleStore::OrientY, ParticleStore::OrientZ};
}

glm::dquat turnedOn(const glm::dquat& orientation, const Vec3d& roll, double seconds) {
  const double speed = glm::length(roll);
  if (!(speed > 0)) return orientation;
  return glm::normalize(glm::angleAxis(speed * seconds, roll / speed) * orientation);
}

}  // namespace comet
