// What a cell of the influence grid does, in words.
#pragma once

#include "scene/scene.h"

#include <QString>

namespace comet {

// As in "turbulence acts on moths at 35 %, within a sphere. Heavier particles answer less to it."
QString cellTip(const Scene& scene, const Item& emitter, const Item& influence, double frame);

}  // namespace comet
