// The kernel for pieces of ribbons. Included once for each vector unit, by tile.cpp.
//
// NOLINTNEXTLINE(llvm-header-guard): a header of its own for each vector unit
#if defined(COMET_RIBBON_KERNEL_H) == defined(HWY_TARGET_TOGGLE)
#ifdef COMET_RIBBON_KERNEL_H
#undef COMET_RIBBON_KERNEL_H
#else
#define COMET_RIBBON_KERNEL_H
#endif

#include "render/sprite.h"
#include "render/tile.h"
#include "render/turned_kernel.h"

#include <algorithm>
#include <cmath>

HWY_BEFORE_NAMESPACE();
namespace comet {
namespace HWY_NAMESPACE {

namespace ribbon {

namespace hn = hwy::HWY_NAMESPACE;
using turned::clampUnit;
using turned::Float;
using turned::Tag;

// How light the edges of a round thread are.
constexpr float kRim = 0.35F;

// a + across · x, along a row.
struct Line {
  Float atLeft, perPixel;
  Float at(Float x) const { return hn::Add(atLeft, hn::Mul(x, perPixel)); }
};

// The distance of a row's pixels, from their x, from a line through (px, py) with this normal.
inline Line distanceFrom(float px, float py, const Vec2& normal, float y) {
  const Tag d;
  return {hn::Set(d, (y - py) * normal.y - px * normal.x), hn::Set(d, normal.x)};
}

// The pixels of a row, within the window, that are no farther than `reach` from the middle line, which has
// this normal. `row` is the row's distance from the piece's middle.
inline void clipRow(const Vec2& normal, float row, float reach, float centreX, int& left, int& right) {
  if (std::abs(normal.x) < 1e-4F) return;
  const float middle = -row * normal.y / normal.x, half = reach / std::abs(normal.x);
  // Clamped before the conversion, which large numbers would not survive.
  const auto place = [centreX](float dx) { return std::clamp(centreX + dx, 0.0F, kTileSize + 1.0F); };
  // A pixel's centre lies half a pixel beyond its edge; conversion rounds down.
  left = std::max(left, static_cast<int>(place(middle - half - 0.5F)));
  right = std::min(right, static_cast<int>(place(middle + half + 0.5F)) + 1);
}

// A cut where the ribbon goes on is sharp, its end is a pixel wide.
HWY_INLINE Float behindCut(Float distance, bool joins) {
  const Tag d;
  if (joins) return hn::IfThenElseZero(hn::Ge(distance, hn::Zero(d)), hn::Set(d, 1.0F));
  return clampUnit(hn::Add(distance, hn::Set(d, 0.5F)));
}
// Of two pieces at a cut, a pixel on it belongs to the later one.
HWY_INLINE Float beforeCut(Float distance, bool joins) {
  const Tag d;
  if (joins) return hn::IfThenElseZero(hn::Gt(distance, hn::Zero(d)), hn::Set(d, 1.0F));
  return clampUnit(hn::Add(distance, hn::Set(d, 0.5F)));
}

HWY_INLINE Float clampSides(Float x) {
  const Tag d;
  return hn::Max(hn::Set(d, -1.0F), hn::Min(hn::Set(d, 1.0F), x));
}

// How a ribbon ends at its sides; `softness` is the share of its half width that fades.
struct Edge {
  float softness;

  // `across` is the distance from the middle line, `half` half the width, at least half a pixel.
  HWY_INLINE Float cover(Float across, Float half) const {
    const Tag d;
    const Float one = hn::Set(d, 1.0F);
    const Float fade = hn::Max(one, hn::Mul(half, hn::Set(d, softness)));
    // A hard edge fades half a pixel within and half a pixel beyond, so that the area is right.
    const Float inside = hn::Add(hn::Sub(half, across), hn::Div(hn::Set(d, 0.5F), fade));
    const Float t = clampUnit(hn::Div(inside, fade));
    const Float rounded = hn::Mul(hn::Mul(t, t), hn::Sub(hn::Set(d, 3.0F), hn::Add(t, t)));
    return hn::Add(t, hn::Mul(hn::Sub(rounded, t), clampUnit(hn::Sub(fade, one))));
  }
};

// The picture that lies along a ribbon.
class AlongPicture {
 public:
  AlongPicture(const SpriteProfile& profile, const RibbonPiece& piece, float length)
      : stamp_(profile.stamps && !profile.stamps->empty() ? &profile.stamps->front() : nullptr),
        begin_(piece.beginAlong),
        more_(piece.endAlong - piece.beginAlong) {
    if (!stamp_) return;
    const float whole = 2 * length / std::max(std::abs(more_), 1e-6F);
    level_ = &stamp_->levelFor(whole, 2 * std::max(piece.beginWidth, piece.endWidth));
  }

  // Multiplies light and cover, at a share of the piece and between the ribbon's sides, -1 to 1.
  HWY_INLINE void apply(Float t, Float side, turned::Light& light) const {
    if (!stamp_) return;
    const Tag d;
    const Float along = hn::Add(hn::Set(d, begin_), hn::Mul(t, hn::Set(d, more_)));
    // Its end is the next one's beginning; a line's own end is its right edge.
    const Float part = hn::Sub(along, hn::Floor(hn::Mul(along, hn::Set(d, 1 - 1e-6F))));
    const turned::Texels texels(*level_, hn::Sub(hn::Add(part, part), hn::Set(d, 1.0F)), side);
    const float* planes = stamp_->samples().data() + level_->first;
    const std::size_t size = level_->planeSize();
    light.red = hn::Mul(light.red, texels.sample(planes));
    light.green = hn::Mul(light.green, texels.sample(planes + size));
    light.blue = hn::Mul(light.blue, texels.sample(planes + 2 * size));
    light.cover = hn::Mul(light.cover, texels.sample(planes + 3 * size));
  }

 private:
  const Stamp* stamp_;
  const Stamp::Level* level_ = nullptr;
  float begin_, more_;
};

template <Blend kBlend>
void drawPiece(const Sprite& sprite, const SpriteProfile& profile, const RibbonPiece& piece,
               const turned::Window& window, float centreX, float centreY, Tile& tile) {
  const Tag d;
  const int lanes = static_cast<int>(hn::Lanes(d));
  const float length = std::sqrt(piece.half.x * piece.half.x + piece.half.y * piece.half.y);
  const Vec2 normal = length > 0 ? Vec2(-piece.half.y, piece.half.x) / length : Vec2(0, 1);
  const Float one = hn::Set(d, 1.0F), opaque = hn::Set(d, 1.0F);
  const Float tint[3] = {hn::Set(d, sprite.red), hn::Set(d, sprite.green), hn::Set(d, sprite.blue)};
  const Edge edge{1 - profile.hardness};
  const AlongPicture along(profile, piece, length);
  const auto mixed = [d](float from, float to, Float t) {
    return hn::Add(hn::Set(d, from), hn::Mul(hn::Set(d, to - from), t));
  };
  const float widest = std::max({piece.beginWidth, piece.endWidth, 0.5F});
  for (int y = window.top; y < window.bottom; ++y) {
    const float row = static_cast<float>(y) + 0.5F - centreY;
    const Line fromBegin = distanceFrom(-piece.half.x, -piece.half.y, piece.beginCut, row);
    const Line toEnd = distanceFrom(piece.half.x, piece.half.y, -piece.endCut, row);
    const Line fromMiddle = distanceFrom(0, 0, normal, row);
    int left = window.left, right = window.right;
    clipRow(normal, row, widest + 1, centreX, left, right);
    for (int x = left; x < right; x += lanes) {
      const Float dx = hn::Sub(hn::Iota(d, static_cast<float>(x)), hn::Set(d, centreX - 0.5F));
      const Float begin = fromBegin.at(dx), end = toEnd.at(dx);
      const Float within = hn::Mul(behindCut(begin, piece.beginJoins), beforeCut(end, piece.endJoins));
      if (hn::AllTrue(d, hn::Le(within, hn::Zero(d)))) continue;
      const Float whole = hn::Max(hn::Set(d, 1e-6F), hn::Add(begin, end));
      const Float t = clampUnit(hn::Div(begin, whole));
      const Float width = mixed(piece.beginWidth, piece.endWidth, t);
      // Thinner than a pixel it is drawn fainter instead.
      const Float half = hn::Max(width, hn::Set(d, 0.5F));
      const Float side = fromMiddle.at(dx), across = hn::Abs(side);
      Float cover = hn::Mul(hn::Mul(edge.cover(across, half), within), hn::Div(width, half));
      if (hn::AllTrue(d, hn::Le(cover, hn::Zero(d)))) continue;
      cover = hn::Mul(cover, mixed(piece.beginOpacity, piece.endOpacity, t));
      Float shade = cover;
      if (profile.isRound) {
        const Float share = hn::Min(one, hn::Div(across, half));
        const Float round = hn::Sqrt(hn::Max(hn::Zero(d), hn::Sub(one, hn::Mul(share, share))));
        shade = hn::Mul(cover, mixed(kRim, 1.0F, round));
      }
      turned::Light light{hn::Mul(mixed(piece.beginLight.x, piece.endLight.x, t), shade),
                          hn::Mul(mixed(piece.beginLight.y, piece.endLight.y, t), shade),
                          hn::Mul(mixed(piece.beginLight.z, piece.endLight.z, t), shade), cover};
      along.apply(t, clampSides(hn::Div(side, half)), light);
      const std::size_t at = static_cast<std::size_t>(y) * Tile::kStride + static_cast<std::size_t>(x);
      turned::blend<kBlend>(light, tint, opaque, tile, at);
    }
  }
}

inline void draw(const Sprite& sprite, const SpriteProfile& profile, const RibbonPiece& piece,
                 const turned::Window& window, float x, float y, Tile& tile) {
  switch (profile.blend) {
    case Blend::Normal:
      return drawPiece<Blend::Normal>(sprite, profile, piece, window, x, y, tile);
    case Blend::Additive:
      return drawPiece<Blend::Additive>(sprite, profile, piece, window, x, y, tile);
    case Blend::Screen:
      return drawPiece<Blend::Screen>(sprite, profile, piece, window, x, y, tile);
    case Blend::Multiply:
      return drawPiece<Blend::Multiply>(sprite, profile, piece, window, x, y, tile);
  }
}

}  // namespace ribbon

}  // namespace HWY_NAMESPACE
}  // namespace comet
HWY_AFTER_NAMESPACE();

#endif
