// What an edit changed, so that each part of the program does only what has to be done again.
#pragma once

#include "scene/scene.h"

#include <vector>

namespace comet {

struct SceneChange {
  std::vector<ItemId> items;  // changed, added or removed
  bool simulation = false;    // where particles are, or which frames there are
  bool look = false;          // how they are drawn
  bool view = false;          // camera, backdrop, and how the program works
  bool bake = false;          // what bakes do

  bool any() const { return !items.empty() || simulation || look || view || bake; }
};

// Says rather too much than too little: a parameter of looks that some scenes simulate with, such as the
// size, counts as both.
SceneChange changeBetween(const Scene& before, const Scene& after);

}  // namespace comet
