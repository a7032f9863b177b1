#include "render/gas_pick.h"

#include "gas/gas_march.h"
#include "render/clip_plane.h"
#include "render/gas_layer.h"

#include <algorithm>

namespace comet {
namespace {

// Gas that stops and sends less than this of the light is not meant.
constexpr float kHardlySeen = 0.02F;
constexpr double kFarthest = 1e9;

}  // namespace

std::optional<GasPick> gasSeenAlong(const Scene& scene, const SceneFrame& frame, const Vec3d& from,
                                    const Vec3d& direction) {
  std::optional<GasPick> pick;
  float most = kHardlySeen;
  const ClipPlane::Span drawn = drawnAlong(clipPlaneOf(scene, frame.number), from, direction);
  for (const HeldGas& held : frame.gases->gases) {
    const Scene::ItemPtr gas = scene.find(held.gas);
    if (!gas || !gas->enabled) continue;
    GasState state;
    state.density = held.content->density();
    state.temperature = held.content->temperature();
    state.color = held.content->color();
    state.age = held.content->age();
    const GasGrid& grid = held.content->grid();
    const GasLook look = gasLookOf(*gas, frame.number, grid);
    const GasRay ray =
        GasMarch(grid, state, look, {})
            .along(from + direction * drawn.begin, direction, std::min(drawn.end, kFarthest) - drawn.begin);
    const float seen = 1 - ray.transmittance + glowWeight(ray.light);
    if (seen <= most) continue;
    most = seen;
    pick = GasPick{held.gas, from + direction * (drawn.begin + static_cast<double>(ray.depth))};
  }
  return pick;
}

}  // namespace comet
