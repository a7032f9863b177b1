// One tile of a picture while sprites are drawn into it, and the kernel that draws them.
#pragma once

#include "render/sprite.h"

#include <algorithm>
#include <array>
#include <cstddef>
#include <cstdint>
#include <vector>

namespace comet {

constexpr int kTileSize = 64;

// Planes of red, green, blue and alpha. Rows have room for a whole vector behind their last pixel, into which
// the kernel may write and which nobody reads.
struct Tile {
  static constexpr int kStride = kTileSize + 16;
  using Plane = std::array<float, kStride * kTileSize>;

  alignas(64) std::array<Plane, 4> planes;
};

// The pixels of the tile along one axis that may be covered: all whose centres lie within a reach.
inline void span(float centre, float reach, int& from, int& to) {
  const auto clamped = [](float edge) { return std::clamp(edge, 0.0F, static_cast<float>(kTileSize)); };
  // Conversion rounds down; a pixel's centre lies half a pixel beyond its edge.
  from = static_cast<int>(clamped(centre - reach + 0.5F));
  to = static_cast<int>(clamped(centre + reach + 0.5F));
}

// What the sprites of a list refer to.
struct SpriteTables {
  const std::vector<SpriteProfile>& profiles;
  const SpriteTurn* turns = nullptr;      // as many as any sprite asks for; null if none is turned
  const RibbonPiece* pieces = nullptr;    // the same, of ribbons
  const MeshView* meshes = nullptr;       // the same, of meshes
  const MeshFace* faces = nullptr;        // that these name
  const FacePicture* pictures = nullptr;  // of the faces, for profiles that have them
};

// Draws sprites in the given order. `order` lists indices into `sprites`; null for their own order. The
// tile's top left pixel is (left, top) of the picture.
void drawIntoTile(const Sprite* sprites, const std::uint32_t* order, std::size_t count,
                  const SpriteTables& tables, int left, int top, Tile& tile);

}  // namespace comet
