#include "simulation/arrivals/arrival_colors.h"

#include "simulation/influences/influences.h"

#include <cmath>

namespace comet {

ArrivalColors arrivalColors(const Scene& scene, ItemId emitter, double frame) {
  ArrivalColors colors;
  for (const Scene::ItemPtr& item : scene.itemsOf(ItemFamily::Influence)) {
    const bool isPicture = influenceKindOf(*item).group == InfluenceGroup::Arrival &&
                           item->chooses("target", "shape") && item->chooses("shape", "picture");
    if (!isPicture || !item->enabled || !scene.response(emitter, item->id).acts()) continue;
    const FrameTime moment{.frame = static_cast<int>(std::ceil(frame)), .start = item->clock.seconds(frame)};
    colors.emplace(item->id, ShapePoints(*item, moment, {}));
  }
  return colors;
}

}  // namespace comet
