// The parameters of a bake.
#pragma once

#include "scene/item.h"

namespace comet {

const KindSpec& bakeKind();

// A bake of all frames of its scene, however many there are: those at its ends that show next to nothing are
// left out, the rest is evenly spread over its cells.
Item newBake(std::string name);

}  // namespace comet
