// Lines as solid tubes.
#pragma once

#include "render/lines.h"
#include "render/solid_layer.h"
#include "scene/item.h"

namespace comet {

// Whether an emitter's trails are drawn so, not as ribbons.
inline bool hasTubes(const Item& emitter) { return emitter.chooses("trail", "tube"); }

// All of the lines, with as many sides as can be told apart from there.
Solid tubeSolid(const Lines& lines, const Projector& seenBy);

}  // namespace comet
