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
#include <optional>

HWY_BEFORE_NAMESPACE();
namespace comet {
namespace HWY_NAMESPACE {

namespace ribbon {

namespace hn = hwy::HWY_NAMESPACE;
using turned::Float;
using turned::saturate;
using turned::Tag;

// How light the edges of a round thread are.
constexpr float kRim = 0.35F;

// The distance of pixels, from their places about the piece's middle, from a line through (px, py) with this
// normal.
class Line {
 public:
  Line(float px, float py, const Vec2& normal) {
    const Tag d;
    right_ = hn::Set(d, normal.x);
    down_ = hn::Set(d, normal.y);
    offset_ = hn::Set(d, -(px * normal.x + py * normal.y));
  }

  HWY_INLINE Float at(Float x, Float y) const {
    return hn::Add(hn::Add(hn::Mul(y, down_), offset_), hn::Mul(x, right_));
  }

 private:
  Float right_, down_, offset_;
};

// What goes evenly from one end of a piece to the other.
class Mixed {
 public:
  Mixed(float from, float to) {
    const Tag d;
    from_ = hn::Set(d, from);
    more_ = hn::Set(d, to - from);
  }

  HWY_INLINE Float at(Float t) const { return hn::Add(from_, hn::Mul(more_, t)); }

 private:
  Float from_, more_;
};

// Finds the pixels of a row that are no farther than `reach` from a line through the piece's middle, which
// has this normal.
class RowClip {
 public:
  RowClip(const Vec2& normal, float reach, float centreX)
      : clips_(std::abs(normal.x) >= 1e-4F), centreX_(centreX) {
    if (!clips_) return;
    perRow_ = -normal.y / normal.x;
    half_ = reach / std::abs(normal.x) + 0.5F;
  }

  // `row` is the row's distance from the piece's middle.
  void clip(float row, int& left, int& right) const {
    if (!clips_) return;
    const float middle = centreX_ + row * perRow_;
    // Clamped before the conversion, which large numbers would not survive.
    const auto place = [](float x) { return std::clamp(x, 0.0F, kTileSize + 1.0F); };
    // A pixel's centre lies half a pixel beyond its edge; conversion rounds down.
    left = std::max(left, static_cast<int>(place(middle - half_)));
    right = std::min(right, static_cast<int>(place(middle + half_)) + 1);
  }

 private:
  bool clips_;
  float centreX_, perRow_ = 0, half_ = 0;
};

// A cut where the ribbon goes on is sharp, its end is a pixel wide.
HWY_INLINE Float behindCut(Float distance, bool joins) {
  const Tag d;
  if (joins) return hn::IfThenElseZero(hn::Ge(distance, hn::Zero(d)), hn::Set(d, 1.0F));
  return saturate(hn::Add(distance, hn::Set(d, 0.5F)));
}
// Of two pieces at a cut, a pixel on it belongs to the later one.
HWY_INLINE Float beforeCut(Float distance, bool joins) {
  const Tag d;
  if (joins) return hn::IfThenElseZero(hn::Gt(distance, hn::Zero(d)), hn::Set(d, 1.0F));
  return saturate(hn::Add(distance, hn::Set(d, 0.5F)));
}

HWY_INLINE Float clampSides(Float x) {
  const Tag d;
  return hn::Max(hn::Set(d, -1.0F), hn::Min(hn::Set(d, 1.0F), x));
}

// A piece is simple if its sides are no softer than a pixel, it is flat and without a picture, and it is cut
// so straight across that it hardly matters for its shades how. Most are.
inline bool isSimple(const SpriteProfile& profile, const RibbonPiece& piece, const Vec2& normal, float length,
                     float widest) {
  constexpr float kSkew = 1.0F / 16;  // of the piece, at its sides
  const auto skew = [&normal](const Vec2& cut) { return std::abs(cut.x * normal.x + cut.y * normal.y); };
  return !profile.stamps && !profile.isRound && widest * (1 - profile.hardness) <= 1 &&
         widest * std::max(skew(piece.beginCut), skew(piece.endCut)) <= kSkew * length;
}

// How a ribbon ends at its sides; `softness` is the fraction of its half width that fades.
struct Edge {
  float softness;

  // `across` is the distance from the middle line, `half` half the width, at least half a pixel.
  HWY_INLINE Float cover(Float across, Float half) const {
    const Tag d;
    const Float one = hn::Set(d, 1.0F);
    const Float fade = hn::Max(one, hn::Mul(half, hn::Set(d, softness)));
    // A hard edge fades half a pixel within and half a pixel beyond, so that the area is right.
    const Float perFade = hn::Div(one, fade);
    const Float inside = hn::Add(hn::Sub(half, across), hn::Mul(hn::Set(d, 0.5F), perFade));
    const Float t = saturate(hn::Mul(inside, perFade));
    const Float rounded = hn::Mul(hn::Mul(t, t), hn::Sub(hn::Set(d, 3.0F), hn::Add(t, t)));
    return hn::Add(t, hn::Mul(hn::Sub(rounded, t), saturate(hn::Sub(fade, one))));
  }
};

// The picture that lies along a ribbon.
class AlongPicture {
 public:
  AlongPicture(const SpriteProfile& profile, const RibbonPiece& piece, float length)
      : begin_(piece.beginAlong), more_(piece.endAlong - piece.beginAlong) {
    if (!profile.stamps || profile.stamps->empty()) return;
    const float whole = 2 * length / std::max(std::abs(more_), 1e-6F);
    const Stamp& stamp = profile.stamps->front();
    const Stamp::Level& level = stamp.levelFor(whole, 2 * std::max(piece.beginWidth, piece.endWidth));
    if (stamp.kind() == Stamp::Kind::Color)
      color_.emplace(level);
    else
      cover_.emplace(level);
  }

  // Multiplies light and cover, at a fraction of the piece and between the ribbon's sides, -1 to 1.
  HWY_INLINE void apply(Float t, Float side, turned::Light& light) const {
    if (!color_ && !cover_) return;
    const Tag d;
    const Float along = hn::Add(hn::Set(d, begin_), hn::Mul(t, hn::Set(d, more_)));
    // Its end is the next one's beginning; a line's own end is its right edge.
    const Float part = hn::Sub(along, hn::Floor(hn::Mul(along, hn::Set(d, 1 - 1e-6F))));
    const Float u = hn::Sub(hn::Add(part, part), hn::Set(d, 1.0F));
    const turned::Light picture = color_ ? color_->at(u, side) : cover_->at(u, side);
    light.red = hn::Mul(light.red, picture.red);
    light.green = hn::Mul(light.green, picture.green);
    light.blue = hn::Mul(light.blue, picture.blue);
    light.cover = hn::Mul(light.cover, picture.cover);
  }

 private:
  // At most one of them: only the coverage of a picture counts where something else is painted than its
  // light.
  std::optional<turned::ColorTexels> color_;
  std::optional<turned::PackedTexels<Stamp::Kind::Coverage>> cover_;
  float begin_, more_;
};

// The part of the tile in which a simple piece lies: a closer one than its reach.
inline turned::Window boxOf(const RibbonPiece& piece, const Vec2& normal, float widest, float centreX,
                            float centreY) {
  const Vec2 direction(normal.y, -normal.x);
  // How far it goes on behind its ends at its sides, where it is cut slantwise; without a cut, half a pixel.
  float beyond = 0;
  for (const Vec2& cut : {piece.beginCut, piece.endCut}) {
    const float straight = std::max(1e-3F, cut.x * direction.x + cut.y * direction.y);
    beyond = std::max(beyond, std::abs(cut.x * direction.y - cut.y * direction.x) / straight);
  }
  const float side = widest + 0.5F, end = beyond * side + 0.5F;
  const float reachX = std::abs(piece.half.x) + end * std::abs(direction.x) + side * std::abs(normal.x),
              reachY = std::abs(piece.half.y) + end * std::abs(direction.y) + side * std::abs(normal.y);
  turned::Window box;
  span(centreX, reachX, box.left, box.right);
  span(centreY, reachY, box.top, box.bottom);
  return box;
}

// What changes evenly along a piece, and is painted along it.
struct Paint {
  Paint(const RibbonPiece& piece, const Sprite& sprite)
      : red(piece.beginLight.x * sprite.red, piece.endLight.x * sprite.red),
        green(piece.beginLight.y * sprite.green, piece.endLight.y * sprite.green),
        blue(piece.beginLight.z * sprite.blue, piece.endLight.z * sprite.blue),
        opacity(piece.beginOpacity, piece.endOpacity) {}

  // At a fraction of the piece.
  HWY_INLINE turned::Light lightAt(Float t, Float shade, Float cover) const {
    return {hn::Mul(red.at(t), shade), hn::Mul(green.at(t), shade), hn::Mul(blue.at(t), shade), cover};
  }

  Mixed red, green, blue, opacity;
};

// The lines that a piece is measured from.
struct Frame {
  Frame(const RibbonPiece& piece, const Vec2& normal, float length)
      : fromBegin(-piece.half.x, -piece.half.y, piece.beginCut),
        toEnd(piece.half.x, piece.half.y, -piece.endCut),
        fromMiddle(0, 0, normal),
        fraction(-piece.half.x, -piece.half.y, Vec2(normal.y, -normal.x) / std::max(2 * length, 1e-6F)) {}

  Line fromBegin, toEnd, fromMiddle;
  Line fraction;  // along the piece, as a fraction of it
};

// Calls `pixels(dx, row, at)` for the pixels of the window that may lie in a piece, as many at a time as a
// vector has lanes: their x and y from its middle, and where they are in the tile.
template <typename Pixels>
HWY_INLINE void forPixels(const RowClip& clip, const turned::Window& window, float centreX, float centreY,
                          const Pixels& pixels) {
  const Tag d;
  const int lanes = static_cast<int>(hn::Lanes(d));
  const Float first = hn::Sub(hn::Iota(d, 0.0F), hn::Set(d, centreX - 0.5F));
  const bool isNarrow = window.right - window.left <= lanes;
  for (int y = window.top; y < window.bottom; ++y) {
    const float row = static_cast<float>(y) + 0.5F - centreY;
    int left = window.left, right = window.right;
    if (!isNarrow) clip.clip(row, left, right);
    for (int x = left; x < right; x += lanes)
      pixels(hn::Add(first, hn::Set(d, static_cast<float>(x))), hn::Set(d, row),
             static_cast<std::size_t>(y) * Tile::kStride + static_cast<std::size_t>(x));
  }
}

// A simple piece. What it takes one after the other is what it costs, so as much as can be is computed side
// by side.
template <Blend kBlend>
void drawSimple(const Sprite& sprite, const RibbonPiece& piece, const Vec2& normal, float length,
                float widest, float centreX, float centreY, Tile& tile) {
  const Tag d;
  const Float one = hn::Set(d, 1.0F), half = hn::Set(d, 0.5F);
  const Float tint[3] = {one, one, one};
  const Frame frame(piece, normal, length);
  const Paint paint(piece, sprite);
  const Mixed widths(piece.beginWidth, piece.endWidth);
  const bool beginJoins = piece.beginJoins, endJoins = piece.endJoins;
  const auto draw = [&](Float x, Float y, std::size_t at) {
    const Float within =
        hn::Mul(behindCut(frame.fromBegin.at(x, y), beginJoins), beforeCut(frame.toEnd.at(x, y), endJoins));
    const Float t = saturate(frame.fraction.at(x, y)), width = widths.at(t);
    const Float spare = hn::Sub(half, hn::Abs(frame.fromMiddle.at(x, y)));
    // Thinner than a pixel it is drawn fainter instead.
    const Float full = saturate(hn::Add(hn::Max(width, half), spare));
    const Float thin = hn::Mul(hn::Min(one, hn::Add(width, width)), paint.opacity.at(t));
    const Float cover = hn::Mul(hn::Mul(full, within), thin);
    turned::blend<kBlend>(paint.lightAt(t, cover, cover), tint, one, tile, at);
  };
  forPixels(RowClip(normal, widest + 1, centreX), boxOf(piece, normal, widest, centreX, centreY), centreX,
            centreY, draw);
}

template <Blend kBlend>
void drawAny(const Sprite& sprite, const SpriteProfile& profile, const RibbonPiece& piece, const Vec2& normal,
             float length, float widest, float centreX, float centreY, Tile& tile) {
  const Tag d;
  const Float one = hn::Set(d, 1.0F), zero = hn::Zero(d), min = hn::Set(d, 0.5F);
  const Float tint[3] = {one, one, one};
  const Frame frame(piece, normal, length);
  const Paint paint(piece, sprite);
  const Mixed widths(piece.beginWidth, piece.endWidth), roundness(kRim, 1);
  const Edge edge{1 - profile.hardness};
  const AlongPicture along(profile, piece, length);
  const auto draw = [&](Float x, Float y, std::size_t at) {
    const Float begin = frame.fromBegin.at(x, y), end = frame.toEnd.at(x, y);
    const Float within = hn::Mul(behindCut(begin, piece.beginJoins), beforeCut(end, piece.endJoins));
    if (hn::AllTrue(d, hn::Le(within, zero))) return;
    const Float t = saturate(hn::Div(begin, hn::Max(hn::Set(d, 1e-6F), hn::Add(begin, end))));
    const Float width = widths.at(t), half = hn::Max(width, min);
    const Float side = frame.fromMiddle.at(x, y), across = hn::Abs(side);
    // Thinner than a pixel it is drawn fainter instead.
    const Float thin = hn::Min(one, hn::Add(width, width));
    Float cover = hn::Mul(hn::Mul(edge.cover(across, half), within), thin);
    if (hn::AllTrue(d, hn::Le(cover, zero))) return;
    cover = hn::Mul(cover, paint.opacity.at(t));
    Float shade = cover;
    if (profile.isRound) {
      const Float part = hn::Min(one, hn::Div(across, half));
      const Float round = hn::Sqrt(hn::Max(zero, hn::Sub(one, hn::Mul(part, part))));
      shade = hn::Mul(cover, roundness.at(round));
    }
    turned::Light light = paint.lightAt(t, shade, cover);
    along.apply(t, clampSides(hn::Div(side, half)), light);
    turned::blend<kBlend>(light, tint, one, tile, at);
  };
  turned::Window window;
  span(centreX, piece.reach().x, window.left, window.right);
  span(centreY, piece.reach().y, window.top, window.bottom);
  forPixels(RowClip(normal, widest + 1, centreX), window, centreX, centreY, draw);
}

template <Blend kBlend>
void drawFitting(const Sprite& sprite, const SpriteProfile& profile, const RibbonPiece& piece, float x,
                 float y, Tile& tile) {
  const float length = std::sqrt(piece.half.x * piece.half.x + piece.half.y * piece.half.y);
  const Vec2 normal = length > 0 ? Vec2(-piece.half.y, piece.half.x) / length : Vec2(0, 1);
  const float widest = std::max({piece.beginWidth, piece.endWidth, 0.5F});
  if (isSimple(profile, piece, normal, length, widest))
    drawSimple<kBlend>(sprite, piece, normal, length, widest, x, y, tile);
  else
    drawAny<kBlend>(sprite, profile, piece, normal, length, widest, x, y, tile);
}

inline void draw(const Sprite& sprite, const SpriteProfile& profile, const RibbonPiece& piece, float x,
                 float y, Tile& tile) {
  switch (profile.blend) {
    case Blend::Normal:
      return drawFitting<Blend::Normal>(sprite, profile, piece, x, y, tile);
    case Blend::Additive:
      return drawFitting<Blend::Additive>(sprite, profile, piece, x, y, tile);
    case Blend::Screen:
      return drawFitting<Blend::Screen>(sprite, profile, piece, x, y, tile);
    case Blend::Multiply:
      return drawFitting<Blend::Multiply>(sprite, profile, piece, x, y, tile);
  }
}

}  // namespace ribbon

}  // namespace HWY_NAMESPACE
}  // namespace comet
HWY_AFTER_NAMESPACE();

#endif
