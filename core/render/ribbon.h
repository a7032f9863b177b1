// Trails as pieces of ribbons, which the rasteriser draws among the sprites.
#pragma once

#include "render/camera.h"
#include "render/look.h"
#include "render/sprite.h"
#include "render/trail.h"

#include <vector>

namespace comet {

// How an emitter's trails are blended and what they are like across.
SpriteProfile ribbonProfile(const Item& emitter, double frame);

struct Ribbons {
  std::vector<Sprite> sprites;  // `turn` is an index into `pieces`
  std::vector<RibbonPiece> pieces;

  void clear() {
    sprites.clear();
    pieces.clear();
  }
};

// Adds the pieces of trails `first` to `first + count` that can be seen in a picture of this size.
void addRibbons(const Trails& trails, std::size_t first, std::size_t count, const SpriteOptions& options,
                const Projector& projector, int width, int height, Ribbons& ribbons);

}  // namespace comet
