#include "base/light.h"

#include <algorithm>
#include <glm/geometric.hpp>

namespace comet {

double PointLight::at(double distance) const {
  if (distance <= full) return 1;
  switch (falloff) {
    case Falloff::InverseSquare:
      return full * full / (distance * distance);
    case Falloff::Linear:
      return distance < range ? (range - distance) / (range - full) : 0;
    case Falloff::None:
      break;
  }
  return 1;
}

Light::Arriving Light::arriving(const Vec3d& at) const {
  if (!point) return {towards, 1};
  const Vec3d way = point->place - at;
  const double distance = glm::length(way);
  return {distance > 0 ? way / distance : towards, point->at(distance)};
}

}  // namespace comet
