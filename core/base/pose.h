// Where something lies in the scene, and how it is turned there.
#pragma once

#include "base/vec.h"

#include <glm/matrix.hpp>

namespace comet {

// A rigid transform: from a thing's own space to the scene, and back.
struct Pose {
  Vec3d position{0.0};
  Mat3d rotation{1.0};

  Vec3d toScene(const Vec3d& own) const { return position + rotation * own; }
  Vec3d toOwn(const Vec3d& scenePosition) const {
    return glm::transpose(rotation) * (scenePosition - position);
  }
};

}  // namespace comet
