// Draws sprites into a picture: in tiles, on all threads, in linear light with premultiplied alpha.
//
// Covering sprites are drawn from far to near, additive ones add their light at their place in that order.
// Where no sprite of a tile covers, nothing is sorted. Gas is drawn in pieces between the depths of sprites;
// where there is any, sprites are drawn by their depths too, whatever order they are asked for in. The result
// does not depend on the number of threads or on the vector unit.
#pragma once

#include "base/picture.h"
#include "base/progress.h"
#include "render/gas_layer.h"
#include "render/solid_layer.h"
#include "render/sprite.h"
#include "render/tile.h"

#include <cstddef>
#include <memory>
#include <vector>

namespace comet {

// Sprites in spans: each span was filled by one task and may hold less than the room it had.
struct SpriteSpan {
  const Sprite* sprites;
  std::size_t count;
};

// Keeps its buffers between pictures; belongs to one thread at a time.
class Rasteriser {
 public:
  Rasteriser();
  ~Rasteriser();
  Rasteriser(Rasteriser&&) noexcept;
  Rasteriser& operator=(Rasteriser&&) noexcept;

  // Overwrites `picture`, which has the size to draw in. Sprites fade where they go behind the surfaces of
  // `solids`, over about their own size; its colours, if they are wanted, lie under them all. It is empty or
  // as large as the picture. Throws Error(Cancelled) soon after `progress` is cancelled.
  void draw(const std::vector<SpriteSpan>& spans, const SpriteTables& tables, Picture& picture,
            const SolidLayer& solids = {}, bool wantsColors = true, const GasLayer& gas = {},
            const GasPass& gasPass = {}, const Progress& progress = {});

 private:
  struct Buffers;
  std::unique_ptr<Buffers> buffers_;
};

}  // namespace comet
