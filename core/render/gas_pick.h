// Which place of a gas is meant where a ray goes into it.
#pragma once

#include "scene/scene.h"
#include "simulation/frame/scene_frame.h"

#include <optional>

namespace comet {

struct GasPick {
  ItemId gas = 0;
  Vec3d position{0.0};
};

// Of all gases that are on, the one that covers most of what is behind it, at the mean depth at which it
// does; nothing if hardly any gas is there. `direction` is of length one.
std::optional<GasPick> gasSeenAlong(const Scene& scene, const SceneFrame& frame, const Vec3d& from,
                                    const Vec3d& direction);

}  // namespace comet
