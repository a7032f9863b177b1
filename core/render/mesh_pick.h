// Which mesh of a scene is meant where a ray meets it.
#pragma once

#include "scene/scene.h"

#include <optional>

namespace comet {

struct MeshPick {
  ItemId item = 0;
  Vec3d position{0.0};
};

// Of all emitters and deflectors that are on and whose shape is a mesh from a file, the one that the ray
// meets first. `direction` need not be of length one.
std::optional<MeshPick> meshAlong(const Scene& scene, double frame, const Vec3d& from,
                                  const Vec3d& direction);

}  // namespace comet
