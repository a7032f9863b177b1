// Lines as pieces of ribbons, which the rasteriser draws among the sprites.
#pragma once

#include "render/camera.h"
#include "render/lines.h"
#include "render/look.h"
#include "render/sprite.h"

#include <vector>

namespace comet {

// How an emitter's trails, or its links, are blended and what they are like across, and the picture along
// them.
SpriteProfile trailProfile(const Item& emitter, double frame, StampCache& stamps);
SpriteProfile linkProfile(const Item& emitter);

struct Ribbons {
  std::vector<Sprite> sprites;  // `turn` is an index into `pieces`
  std::vector<RibbonPiece> pieces;

  void clear() {
    sprites.clear();
    pieces.clear();
  }
};

// Adds the pieces of lines `first` to `first + count` that can be seen in a picture of this size. The picture
// along them is so long, units, or stretched over each if 0.
void addRibbons(const Lines& lines, std::size_t first, std::size_t count, const SpriteOptions& options,
                const Projector& projector, int width, int height, double pictureLength, Ribbons& ribbons);

}  // namespace comet
