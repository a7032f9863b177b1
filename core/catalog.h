// All kinds of items that this version knows.
#pragma once

#include "scene/scene.h"

namespace comet {

const Catalog& catalog();

// What "New scene" gives: one emitter that is already giving particles, a camera and a bake.
Scene startingScene();

}  // namespace comet
