// The lights of a scene at one of its frames: that of its settings, and its light items.
#pragma once

#include "base/light.h"
#include "scene/scene.h"
#include "simulation/frame/scene_frame.h"

#include <optional>
#include <string>
#include <vector>

namespace comet {

struct SceneLights {
  std::vector<Light> lights;
  Vec3d around{0.2};  // what comes from all sides, linear

  // Of a white that scatters evenly (Lambert), on a surface at a place.
  Vec3d on(const Vec3d& at, const Vec3d& normal) const;
  // The same of what sends on as much of each light to all sides, as a thin puff does.
  Vec3d at(const Vec3d& at) const;

  // The lights from far away with what comes from all sides, and the other lights alone.
  SceneLights fromFarAway() const;
  SceneLights fromNear() const;
};

// The light of the scene's settings alone.
SceneLights settingsLight(const Scene& scene, double frame);
// All lights that are on.
SceneLights lightsOf(const Scene& scene, const SceneFrame& frame);

// With a new point light, the last item, up and to the left of what the camera looks at.
Scene withNewLight(const Scene& scene);

// Why a light shines nowhere although it is on; empty if it does.
std::string problemWithLight(const Scene& scene, const Item& light);

// Where a point light is; nothing if it follows a particle and there is none.
std::optional<Vec3d> lightPlace(const Scene& scene, const Item& light, const SceneFrame& frame);

// The fraction of a light that its flicker leaves at a frame, 0 to 1.
double flickerOf(const Scene& scene, const Item& light, double frame);

}  // namespace comet
