// How light from six sides falls on gas: on its way through the gas, with the shadows that it throws on
// itself, and scattered as in the pictures.
#pragma once

#include "bake/relight.h"
#include "base/progress.h"
#include "render/look.h"
#include "simulation/frame/scene_frame.h"

#include <functional>
#include <memory>
#include <vector>

namespace comet {

enum class LitFrom { Right, Left, Top, Bottom, Back, Front };

// The gases of a frame, as lit from the sides of a view. Whatever color they have, they count as white.
class GasLights {
 public:
  // But for those that are left out. Throws Error(Cancelled).
  GasLights(const Scene& scene, const SceneFrame& frame, const std::vector<ItemId>& leftOut,
            const Camera& view, const Progress& progress);
  ~GasLights();
  GasLights(const GasLights&) = delete;
  GasLights& operator=(const GasLights&) = delete;

  bool empty() const { return gases_.empty(); }
  // How much of two lights of 1 a place in a gas sends to the viewer. Any thread.
  Vec2d at(LitFrom first, LitFrom second, const GasPlace& place, const Projector& projector) const;

 private:
  struct LitGas;
  std::vector<std::unique_ptr<const LitGas>> gases_;
};

// Puts what gas sends on in place of what is there, for the fraction of what is seen that is gas. `painted`
// gives the values that a paint leaves in a cell; see Renderer::paint.
void mixInGas(const GasLights& gases, const std::function<Picture(const SpritePaint&)>& painted,
              SixLights& lights);

}  // namespace comet
