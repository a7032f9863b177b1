#include "render/gas_pick.h"

#include "gas/gas_march.h"
#include "render/gas_layer.h"

namespace comet {
namespace {

// Gas that lets more than this through is not meant.
constexpr float kHardlySeen = 0.98F;
constexpr double kFarthest = 1e9;

}  // namespace

std::optional<GasPick> gasSeenAlong(const Scene& scene, const SceneFrame& frame, const Vec3d& from,
                                    const Vec3d& direction) {
  std::optional<GasPick> pick;
  float min = kHardlySeen;
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
    const GasRay ray = GasMarch(grid, state, look, {}).along(from, direction, kFarthest);
    if (ray.transmittance >= min) continue;
    min = ray.transmittance;
    pick = GasPick{held.gas, from + direction * static_cast<double>(ray.depth)};
  }
  return pick;
}

}  // namespace comet
