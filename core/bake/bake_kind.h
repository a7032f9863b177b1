// The parameters of a bake.
#pragma once

#include "scene/item.h"

namespace comet {

const KindSpec& bakeKind();

// A bake of all frames of its scene, evenly spread over its cells, however many there are.
Item newBake(std::string name);

}  // namespace comet
