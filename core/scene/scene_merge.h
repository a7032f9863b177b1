// Takes over what another scene holds.
#pragma once

#include "scene/scene.h"

#include <vector>

namespace comet {

struct Merged {
  Scene scene;
  std::vector<ItemId> added;  // in the other scene's order
};

// The scene with all emitters, gases, sources, lights and influences of another one. Names that are taken
// become others, and references follow.
//
// What comes behaves as it did: its influences act on it as in the other scene, and on nothing that was here.
// Of what was here only deflectors act on it, unless it brings its own. An influence that it brings and that
// is here already, with all its values, is not added again.
Merged withItemsOf(const Scene& scene, const Scene& other);

}  // namespace comet
