#include "render/tile.h"

#include <algorithm>
#include <cassert>
#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "render/tile.cpp"
#include <hwy/foreach_target.h>
// After foreach_target.h, as the library asks.
#include "render/coverage.h"
#include "render/turned_kernel.h"
// After it, since they blend in the same way.
#include "render/mesh_kernel.h"
#include "render/ribbon_kernel.h"

#include <hwy/cache_control.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace comet {
namespace HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

// Long vectors for sprites that fill them; short ones for small sprites, beside which most of a long one
// would lie.
using LongTag = hn::CappedTag<float, 16>;
using ShortTag = hn::CappedTag<float, 8>;
constexpr int kShortWidth = 8;

// max(0, min(1, full - fall * d²)), then rounded off if smooth.
template <bool kSmooth, class Tag, class Float = hn::Vec<Tag>>
HWY_INLINE Float rampAt(Tag d, const Ramp& ramp, Float squaredDistance) {
  const Float one = hn::Set(d, 1.0F);
  const Float line = hn::Sub(hn::Set(d, ramp.full), hn::Mul(hn::Set(d, ramp.fall), squaredDistance));
  const Float t = hn::Max(hn::Zero(d), hn::Min(one, line));
  if constexpr (!kSmooth) return t;
  return hn::Mul(hn::Mul(t, t), hn::Sub(hn::Set(d, 3.0F), hn::Add(t, t)));
}

struct Area {
  int left, right, top, bottom;  // right and bottom not included
};

// What a sprite does to each plane: keeps 1 - `taken` × coverage of what is there, and adds `light` ×
// coverage.
struct PlaneFactors {
  float taken[4];
  float light[4];
};

inline PlaneFactors planeFactors(const Sprite& sprite, Blend blend) {
  const float opacity = sprite.opacity;
  const float light[3] = {sprite.red * opacity, sprite.green * opacity, sprite.blue * opacity};
  PlaneFactors factors{{opacity, opacity, opacity, opacity}, {light[0], light[1], light[2], opacity}};
  if (blend == Blend::Screen) {
    for (int plane = 0; plane < 3; ++plane) factors.taken[plane] = std::min(1.0F, light[plane]);
    factors.taken[3] = factors.light[3] = 0;
  }
  if (blend == Blend::Multiply) {
    float darkened = 0;
    for (int plane = 0; plane < 3; ++plane) {
      factors.taken[plane] = opacity - std::min(opacity, light[plane]);
      factors.light[plane] = 0;
      darkened += kLuminance[plane] * factors.taken[plane];
    }
    factors.taken[3] = factors.light[3] = darkened;
  }
  return factors;
}

template <bool kSmooth, bool kOpen, Blend kBlend, class Tag>
HWY_INLINE void drawSprite(Tag d, const Sprite& sprite, const Coverage& coverage, const Area& area,
                           float centreX, float centreY, Tile& tile) {
  using Float = hn::Vec<Tag>;
  const int lanes = static_cast<int>(hn::Lanes(d));
  const PlaneFactors factors = planeFactors(sprite, kBlend);
  const Float opacity = hn::Set(d, sprite.opacity);
  Float light[4], taken[4];
  for (std::size_t plane = 0; plane < 4; ++plane) {
    light[plane] = hn::Set(d, factors.light[plane]);
    taken[plane] = hn::Set(d, factors.taken[plane]);
  }
  const Float middle = hn::Set(d, centreX - 0.5F);
  for (int y = area.top; y < area.bottom; ++y) {
    const float dy = static_cast<float>(y) + 0.5F - centreY;
    const Float dy2 = hn::Set(d, dy * dy);
    for (int x = area.left; x < area.right; x += lanes) {
      // Rounded once, whichever lane a pixel is in, so that the vector's length does not matter.
      const Float dx = hn::Sub(hn::Iota(d, static_cast<float>(x)), middle);
      const Float squared = hn::Add(hn::Mul(dx, dx), dy2);
      Float cover = rampAt<kSmooth>(d, coverage.outer, squared);
      if constexpr (kOpen) cover = hn::Sub(cover, rampAt<kSmooth>(d, coverage.inner, squared));
      const Float keep = hn::Sub(hn::Set(d, 1.0F), hn::Mul(opacity, cover));
      const std::size_t at = static_cast<std::size_t>(y) * Tile::kStride + static_cast<std::size_t>(x);
      // Additive sprites leave alpha as it is.
      for (std::size_t plane = 0; plane < (kBlend == Blend::Additive ? 3 : 4); ++plane) {
        float* pixel = tile.planes[plane].data() + at;
        Float old = hn::LoadU(d, pixel);
        if constexpr (kBlend == Blend::Normal) old = hn::Mul(old, keep);
        if constexpr (kBlend == Blend::Screen || kBlend == Blend::Multiply)
          old = hn::Mul(old, hn::Sub(hn::Set(d, 1.0F), hn::Mul(taken[plane], cover)));
        hn::StoreU(hn::Add(old, hn::Mul(light[plane], cover)), d, pixel);
      }
    }
  }
}

template <bool kSmooth, bool kOpen, Blend kBlend>
void drawFitting(const Sprite& sprite, const Coverage& coverage, const Area& area, float x, float y,
                 Tile& tile) {
  // Where vectors are short, both tags are the same. NOLINTNEXTLINE(bugprone-branch-clone)
  if (area.right - area.left <= kShortWidth)
    drawSprite<kSmooth, kOpen, kBlend>(ShortTag(), sprite, coverage, area, x, y, tile);
  else
    drawSprite<kSmooth, kOpen, kBlend>(LongTag(), sprite, coverage, area, x, y, tile);
}

template <bool kSmooth, bool kOpen>
void drawBlended(const Sprite& sprite, Blend blend, const Coverage& coverage, const Area& area, float x,
                 float y, Tile& tile) {
  switch (blend) {
    case Blend::Normal:
      return drawFitting<kSmooth, kOpen, Blend::Normal>(sprite, coverage, area, x, y, tile);
    case Blend::Additive:
      return drawFitting<kSmooth, kOpen, Blend::Additive>(sprite, coverage, area, x, y, tile);
    case Blend::Screen:
      return drawFitting<kSmooth, kOpen, Blend::Screen>(sprite, coverage, area, x, y, tile);
    case Blend::Multiply:
      return drawFitting<kSmooth, kOpen, Blend::Multiply>(sprite, coverage, area, x, y, tile);
  }
}

constexpr std::size_t kAhead = 6;

template <typename Entry>
HWY_INLINE void prefetchEntry(const Entry* entry) {
  hwy::Prefetch(entry);
  hwy::Prefetch(reinterpret_cast<const char*>(entry) + 64);
}

// What the sprite refers to.
HWY_INLINE void prefetchTables(const SpriteTables& tables, const Sprite& sprite) {
  const SpriteProfile& profile = tables.profiles[sprite.profile];
  if (profile.turned) prefetchEntry(tables.turns + sprite.turn);
  if (profile.type == SpriteProfile::Type::Ribbon) prefetchEntry(tables.pieces + sprite.turn);
  if (profile.type == SpriteProfile::Type::Mesh) prefetchEntry(tables.meshes + sprite.turn);
}

void DrawIntoTile(const Sprite* sprites, const std::uint32_t* order, std::size_t count,
                  const SpriteTables& tables, int left, int top, Tile& tile) {
  const auto at = [&](std::size_t i) -> const Sprite& { return sprites[order ? order[i] : i]; };
  for (std::size_t i = 0; i < count; ++i) {
    // Sprites and what they refer to lie all over memory once they are in the order of their depths.
    if (i + 2 * kAhead < count) hwy::Prefetch(&at(i + 2 * kAhead));
    if ((tables.turns || tables.pieces) && i + kAhead < count) prefetchTables(tables, at(i + kAhead));
    const Sprite& sprite = at(i);
    const SpriteProfile& profile = tables.profiles[sprite.profile];
    const float x = sprite.x - static_cast<float>(left), y = sprite.y - static_cast<float>(top);
    Area area;
    if (profile.turned) {
      assert(tables.turns);
      const SpriteTurn& turn = tables.turns[sprite.turn];
      span(x, turn.reachX, area.left, area.right);
      span(y, turn.reachY, area.top, area.bottom);
      turned::draw(sprite, profile, turn, {area.left, area.right, area.top, area.bottom}, x, y, tile);
      continue;
    }
    if (profile.type == SpriteProfile::Type::Ribbon) {
      assert(tables.pieces);
      const RibbonPiece& piece = tables.pieces[sprite.turn];
      ribbon::draw(sprite, profile, piece, x, y, tile);
      continue;
    }
    if (profile.type == SpriteProfile::Type::Mesh) {
      assert(tables.meshes && tables.faces);
      thread_local MeshSamples samples;
      const MeshView& seen = tables.meshes[sprite.turn];
      span(x, seen.reach.x, area.left, area.right);
      span(y, seen.reach.y, area.top, area.bottom);
      mesh::draw(sprite, profile.blend,
                 {tables.faces + seen.firstFace,
                  profile.hasPictures ? tables.pictures + seen.firstFace : nullptr, seen.faces},
                 {area.left, area.right, area.top, area.bottom}, left, top, samples, tile);
      continue;
    }
    const Coverage coverage = coverageOf(profile, sprite.radius);
    span(x, coverage.reach, area.left, area.right);
    span(y, coverage.reach, area.top, area.bottom);
    if (profile.type == SpriteProfile::Type::SoftDisc)
      drawBlended<true, false>(sprite, profile.blend, coverage, area, x, y, tile);
    else if (coverage.open)
      drawBlended<false, true>(sprite, profile.blend, coverage, area, x, y, tile);
    else
      drawBlended<false, false>(sprite, profile.blend, coverage, area, x, y, tile);
  }
}

}  // namespace HWY_NAMESPACE
}  // namespace comet
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace comet {

HWY_EXPORT(DrawIntoTile);

void drawIntoTile(const Sprite* sprites, const std::uint32_t* order, std::size_t count,
                  const SpriteTables& tables, int left, int top, Tile& tile) {
  HWY_DYNAMIC_DISPATCH(DrawIntoTile)(sprites, order, count, tables, left, top, tile);
}

}  // namespace comet
#endif
