// The colours of pictures at whose points particles arrive.
#pragma once

#include "scene/scene.h"
#include "simulation/arrivals/shape_points.h"

#include <map>

namespace comet {

// By influence: of those that bring an emitter's particles to the points of pictures.
using ArrivalColors = std::map<ItemId, ShapePoints>;

ArrivalColors arrivalColors(const Scene& scene, ItemId emitter, double frame);

}  // namespace comet
