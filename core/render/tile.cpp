#include "render/tile.h"

#include <algorithm>
#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "render/tile.cpp"
#include <hwy/foreach_target.h>
// After foreach_target.h, as the library asks.
#include "render/coverage.h"

#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace comet {
namespace HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

// A vector longer than this would for the most part lie beside small sprites.
using FloatTag = hn::CappedTag<float, 16>;
using Float = hn::Vec<FloatTag>;

// max(0, min(1, full - fall * d²)), then rounded off if smooth.
template <bool kSmooth>
HWY_INLINE Float rampAt(const Ramp& ramp, Float squaredDistance) {
  const FloatTag d;
  const Float one = hn::Set(d, 1.0F);
  const Float line = hn::Sub(hn::Set(d, ramp.full), hn::Mul(hn::Set(d, ramp.fall), squaredDistance));
  const Float t = hn::Max(hn::Zero(d), hn::Min(one, line));
  if constexpr (!kSmooth) return t;
  return hn::Mul(hn::Mul(t, t), hn::Sub(hn::Set(d, 3.0F), hn::Add(t, t)));
}

struct Area {
  int left, right, top, bottom;  // right and bottom not included
};

template <bool kSmooth, bool kOpen, bool kCovers>
void drawSprite(const Sprite& sprite, const Coverage& coverage, const Area& area, float centreX,
                float centreY, Tile& tile) {
  const FloatTag d;
  const int lanes = static_cast<int>(hn::Lanes(d));
  const Float red = hn::Set(d, sprite.red * sprite.opacity),
              green = hn::Set(d, sprite.green * sprite.opacity),
              blue = hn::Set(d, sprite.blue * sprite.opacity), opacity = hn::Set(d, sprite.opacity);
  const Float one = hn::Set(d, 1.0F);
  const Float steps = hn::Iota(d, 0.5F - centreX);
  for (int y = area.top; y < area.bottom; ++y) {
    const float dy = static_cast<float>(y) + 0.5F - centreY;
    const Float dy2 = hn::Set(d, dy * dy);
    for (int x = area.left; x < area.right; x += lanes) {
      const Float dx = hn::Add(steps, hn::Set(d, static_cast<float>(x)));
      const Float squared = hn::Add(hn::Mul(dx, dx), dy2);
      Float cover = rampAt<kSmooth>(coverage.outer, squared);
      if constexpr (kOpen) cover = hn::Sub(cover, rampAt<kSmooth>(coverage.inner, squared));
      const std::size_t at = static_cast<std::size_t>(y) * Tile::kStride + static_cast<std::size_t>(x);
      const auto blend = [&](int plane, Float light, Float keep) {
        float* pixel = tile.planes[static_cast<std::size_t>(plane)].data() + at;
        Float old = hn::LoadU(d, pixel);
        if constexpr (kCovers) old = hn::Mul(old, keep);
        hn::StoreU(hn::Add(old, hn::Mul(light, cover)), d, pixel);
      };
      const Float keep = hn::Sub(one, hn::Mul(opacity, cover));
      blend(0, red, keep);
      blend(1, green, keep);
      blend(2, blue, keep);
      if constexpr (kCovers) blend(3, opacity, keep);
    }
  }
}

void DrawIntoTile(const Sprite* sprites, const std::uint32_t* order, std::size_t count,
                  const std::vector<SpriteProfile>& profiles, int left, int top, Tile& tile) {
  for (std::size_t i = 0; i < count; ++i) {
    const Sprite& sprite = sprites[order ? order[i] : i];
    const SpriteProfile& profile = profiles[sprite.profile];
    const Coverage coverage = coverageOf(profile, sprite.radius);
    const float x = sprite.x - static_cast<float>(left), y = sprite.y - static_cast<float>(top);
    // Of the pixels whose centres may be covered, those in the tile.
    const auto clampToTile = [](float edge) {
      return static_cast<int>(std::clamp(edge, 0.0F, static_cast<float>(kTileSize)));
    };
    const Area area{clampToTile(std::floor(x - coverage.reach)), clampToTile(std::ceil(x + coverage.reach)),
                    clampToTile(std::floor(y - coverage.reach)), clampToTile(std::ceil(y + coverage.reach))};
    const bool smooth = profile.type == SpriteProfile::Type::SoftDisc;
    if (smooth)
      profile.covers ? drawSprite<true, false, true>(sprite, coverage, area, x, y, tile)
                     : drawSprite<true, false, false>(sprite, coverage, area, x, y, tile);
    else if (coverage.open)
      profile.covers ? drawSprite<false, true, true>(sprite, coverage, area, x, y, tile)
                     : drawSprite<false, true, false>(sprite, coverage, area, x, y, tile);
    else
      profile.covers ? drawSprite<false, false, true>(sprite, coverage, area, x, y, tile)
                     : drawSprite<false, false, false>(sprite, coverage, area, x, y, tile);
  }
}

}  // namespace HWY_NAMESPACE
}  // namespace comet
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace comet {

HWY_EXPORT(DrawIntoTile);

void drawIntoTile(const Sprite* sprites, const std::uint32_t* order, std::size_t count,
                  const std::vector<SpriteProfile>& profiles, int left, int top, Tile& tile) {
  HWY_DYNAMIC_DISPATCH(DrawIntoTile)(sprites, order, count, profiles, left, top, tile);
}

}  // namespace comet
#endif
