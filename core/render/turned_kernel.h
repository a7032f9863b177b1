// The kernel for sprites that are turned, stretched or stamped. Included once for each vector unit, by
// tile.cpp.
//
// NOLINTNEXTLINE(llvm-header-guard): a header of its own for each vector unit
#if defined(COMET_TURNED_KERNEL_H) == defined(HWY_TARGET_TOGGLE)
#ifdef COMET_TURNED_KERNEL_H
#undef COMET_TURNED_KERNEL_H
#else
#define COMET_TURNED_KERNEL_H
#endif

#include "render/coverage.h"
#include "render/sprite.h"
#include "render/tile.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace comet {
namespace HWY_NAMESPACE {

namespace turned {

namespace hn = hwy::HWY_NAMESPACE;

using Tag = hn::CappedTag<float, 8>;
using Float = hn::Vec<Tag>;
using IntTag = hn::RebindToSigned<Tag>;

struct Light {
  Float red, green, blue, cover;
};

HWY_INLINE Float clampUnit(Float x) {
  const Tag d;
  return hn::Max(hn::Zero(d), hn::Min(hn::Set(d, 1.0F), x));
}

// Four neighbouring texels and their weights.
class Texels {
 public:
  Texels(const Stamp::Level& level, Float u, Float v) {
    const Tag d;
    const IntTag di;
    const Float half = hn::Set(d, 0.5F);
    const auto place = [&](Float share, int size, Float& whole, Float& next) {
      const Float last = hn::Set(d, static_cast<float>(size - 1));
      const Float at =
          hn::Sub(hn::Mul(hn::Add(hn::Mul(share, half), half), hn::Set(d, static_cast<float>(size))), half);
      const Float inside = hn::Max(hn::Zero(d), hn::Min(last, at));
      whole = hn::Floor(inside);
      next = hn::Min(last, hn::Add(whole, hn::Set(d, 1.0F)));
      return hn::Sub(inside, whole);
    };
    Float x0, x1, y0, y1;
    right_ = place(u, level.width, x0, x1);
    below_ = place(v, level.height, y0, y1);
    const auto stride = hn::Set(di, level.width);
    const auto index = [&](Float x, Float y) {
      return hn::Add(hn::Mul(hn::ConvertTo(di, y), stride), hn::ConvertTo(di, x));
    };
    topLeft_ = index(x0, y0);
    topRight_ = index(x1, y0);
    bottomLeft_ = index(x0, y1);
    bottomRight_ = index(x1, y1);
  }

  Float sample(const float* plane) const {
    const Tag d;
    const auto mixed = [](Float a, Float b, Float t) { return hn::Add(a, hn::Mul(hn::Sub(b, a), t)); };
    return mixed(
        mixed(hn::GatherIndex(d, plane, topLeft_), hn::GatherIndex(d, plane, topRight_), right_),
        mixed(hn::GatherIndex(d, plane, bottomLeft_), hn::GatherIndex(d, plane, bottomRight_), right_),
        below_);
  }

 private:
  hn::Vec<IntTag> topLeft_, topRight_, bottomLeft_, bottomRight_;
  Float right_, below_;
};

// How much of a pixel the rectangle covers that the sprite fills: its edges are a pixel wide.
HWY_INLINE Float rectangleCover(const SpriteTurn& turn, Float u, Float v) {
  const Tag d;
  const Float one = hn::Set(d, 1.0F), half = hn::Set(d, 0.5F);
  const auto edge = [&](Float share, float pixels) {
    return clampUnit(hn::Add(hn::Mul(hn::Sub(one, hn::Abs(share)), hn::Set(d, 0.5F * pixels)), half));
  };
  return hn::Mul(edge(u, turn.pixelsWide), edge(v, turn.pixelsHigh));
}

template <bool kSmooth>
HWY_INLINE Float rampAt(const Ramp& ramp, Float squared) {
  const Tag d;
  const Float t = clampUnit(hn::Sub(hn::Set(d, ramp.full), hn::Mul(hn::Set(d, ramp.fall), squared)));
  if constexpr (!kSmooth) return t;
  return hn::Mul(hn::Mul(t, t), hn::Sub(hn::Set(d, 3.0F), hn::Add(t, t)));
}

// A disc or ring, drawn out to an ellipse.
class DiscSource {
 public:
  DiscSource(const Sprite& sprite, const SpriteProfile& profile, const SpriteTurn&)
      : coverage_(coverageOf(profile, sprite.radius)),
        isSoft_(profile.type == SpriteProfile::Type::SoftDisc),
        area_(sprite.radius * sprite.radius) {}

  Light at(Float u, Float v) const {
    const Tag d;
    const Float squared = hn::Mul(hn::Add(hn::Mul(u, u), hn::Mul(v, v)), hn::Set(d, area_));
    Float cover = isSoft_ ? rampAt<true>(coverage_.outer, squared) : rampAt<false>(coverage_.outer, squared);
    if (coverage_.open) cover = hn::Sub(cover, rampAt<false>(coverage_.inner, squared));
    return {cover, cover, cover, cover};
  }

 private:
  Coverage coverage_;
  bool isSoft_;
  float area_;
};

// A star or polygon: of all points, the one that a pixel lies nearest to decides, and the edge on its side of
// it.
class StarSource {
 public:
  StarSource(const Sprite&, const SpriteProfile& profile, const SpriteTurn& turn)
      : edge_(profile.starEdge),
        points_(profile.starPoints),
        pixels_(0.5F * std::min(turn.pixelsWide, turn.pixelsHigh)) {
    for (int i = 0; i < points_; ++i) {
      const double angle = 2 * kPi * i / points_;
      ways_[i] = Vec2(Vec2d(std::sin(angle), -std::cos(angle)));
    }
  }

  Light at(Float u, Float v) const {
    const Tag d;
    Float along = hn::Set(d, -1e9F);
    for (int i = 0; i < points_; ++i)
      along = hn::Max(along, hn::Add(hn::Mul(u, hn::Set(d, ways_[i].x)), hn::Mul(v, hn::Set(d, ways_[i].y))));
    const Float squared = hn::Sub(hn::Add(hn::Mul(u, u), hn::Mul(v, v)), hn::Mul(along, along));
    const Float across = hn::Sqrt(hn::Max(hn::Zero(d), squared));
    const Float beyond = hn::Add(hn::Mul(across, hn::Set(d, edge_.x)),
                                 hn::Mul(hn::Sub(along, hn::Set(d, 1.0F)), hn::Set(d, edge_.y)));
    const Float cover = clampUnit(hn::Sub(hn::Set(d, 0.5F), hn::Mul(beyond, hn::Set(d, pixels_))));
    return {cover, cover, cover, cover};
  }

 private:
  static constexpr int kMostPoints = 12;

  Vec2 edge_;
  int points_;
  float pixels_;
  std::array<Vec2, kMostPoints> ways_;
};

template <Stamp::Kind kKind>
class StampSource {
 public:
  StampSource(const Sprite&, const SpriteProfile& profile, const SpriteTurn& turn)
      : turn_(turn), first_((*profile.stamps)[turn.stamp]), second_((*profile.stamps)[turn.nextStamp]) {}

  Light at(Float u, Float v) const {
    const Tag d;
    const Float edge = rectangleCover(turn_, u, v);
    Light light = of(first_, u, v);
    if (turn_.mix > 0) {
      const Light next = of(second_, u, v);
      const Float t = hn::Set(d, turn_.mix);
      const auto mixed = [&t](Float a, Float b) { return hn::Add(a, hn::Mul(hn::Sub(b, a), t)); };
      light = {mixed(light.red, next.red), mixed(light.green, next.green), mixed(light.blue, next.blue),
               mixed(light.cover, next.cover)};
    }
    return {hn::Mul(light.red, edge), hn::Mul(light.green, edge), hn::Mul(light.blue, edge),
            hn::Mul(light.cover, edge)};
  }

 private:
  Light of(const Stamp& stamp, Float u, Float v) const {
    const Stamp::Level& level = stamp.levelFor(turn_.pixelsWide, turn_.pixelsHigh);
    const float* planes = stamp.samples().data() + level.first;
    const Texels texels(level, u, v);
    const Float cover = texels.sample(planes);
    if constexpr (kKind == Stamp::Kind::Grey)
      return {cover, cover, cover, texels.sample(planes + level.planeSize())};
    if constexpr (kKind == Stamp::Kind::Color) {
      const std::size_t size = level.planeSize();
      return {cover, texels.sample(planes + size), texels.sample(planes + 2 * size),
              texels.sample(planes + 3 * size)};
    }
    return {cover, cover, cover, cover};
  }

  const SpriteTurn& turn_;
  const Stamp& first_;
  const Stamp& second_;
};

// What lies behind is kept to a share, and the sprite's own light is added.
template <Blend kBlend>
HWY_INLINE void blend(const Light& source, const Float* tint, Float opacity, Tile& tile, std::size_t at) {
  const Tag d;
  const Float one = hn::Set(d, 1.0F);
  const Float cover = hn::Mul(source.cover, opacity);
  const Float light[3] = {hn::Mul(source.red, tint[0]), hn::Mul(source.green, tint[1]),
                          hn::Mul(source.blue, tint[2])};
  float* pixel[4];
  for (std::size_t plane = 0; plane < 4; ++plane) pixel[plane] = tile.planes[plane].data() + at;
  if constexpr (kBlend == Blend::Multiply) {
    Float darkened = hn::Zero(d);
    for (std::size_t plane = 0; plane < 3; ++plane) {
      const Float taken = hn::Sub(cover, hn::Min(cover, light[plane]));
      darkened = hn::Add(darkened, hn::Mul(taken, hn::Set(d, kLuminance[plane])));
      hn::StoreU(hn::Mul(hn::LoadU(d, pixel[plane]), hn::Sub(one, taken)), d, pixel[plane]);
    }
    hn::StoreU(hn::Add(hn::Mul(hn::LoadU(d, pixel[3]), hn::Sub(one, darkened)), darkened), d, pixel[3]);
    return;
  }
  for (std::size_t plane = 0; plane < 3; ++plane) {
    Float old = hn::LoadU(d, pixel[plane]);
    if constexpr (kBlend == Blend::Normal) old = hn::Mul(old, hn::Sub(one, cover));
    if constexpr (kBlend == Blend::Screen) old = hn::Mul(old, hn::Sub(one, hn::Min(one, light[plane])));
    hn::StoreU(hn::Add(old, light[plane]), d, pixel[plane]);
  }
  if constexpr (kBlend == Blend::Normal)
    hn::StoreU(hn::Add(hn::Mul(hn::LoadU(d, pixel[3]), hn::Sub(one, cover)), cover), d, pixel[3]);
}

struct Window {
  int left, right, top, bottom;  // in the tile; right and bottom not included
};

// The pixels of a row, within the window, where neither u nor v is beyond the sprite's edges, at `least` and
// at 1, by more than a pixel. `dy` is the row's distance from the centre.
inline void clipRow(const SpriteTurn& turn, float least, float dy, float centreX, int& left, int& right) {
  const auto clip = [&](float across, float down, float pixels) {
    const float pixel = 2 / std::max(pixels, 1e-3F), atCentre = down * dy;
    const float from = least - pixel - atCentre, to = 1 + pixel - atCentre;
    if (std::abs(across) < 1e-9F) {
      if (from > 0 || to < 0) right = left;
      return;
    }
    const float a = from / across, b = to / across;
    // Clamped before the conversion, which large numbers would not survive.
    const auto place = [centreX](float dx) { return std::clamp(centreX + dx, 0.0F, kTileSize + 1.0F); };
    // A pixel's centre lies half a pixel beyond its edge; conversion rounds down.
    left = std::max(left, static_cast<int>(place(std::min(a, b) - 0.5F)));
    right = std::min(right, static_cast<int>(place(std::max(a, b) + 0.5F)) + 1);
  };
  clip(turn.uAcross, turn.uDown, turn.pixelsWide);
  clip(turn.vAcross, turn.vDown, turn.pixelsHigh);
}

template <typename Source, Blend kBlend>
void drawTurned(const Sprite& sprite, const SpriteTurn& turn, const Source& source, const Window& window,
                float centreX, float centreY, Tile& tile) {
  const Tag d;
  const int lanes = static_cast<int>(hn::Lanes(d));
  const Float opacity = hn::Set(d, sprite.opacity);
  const Float tint[3] = {hn::Set(d, sprite.red * sprite.opacity), hn::Set(d, sprite.green * sprite.opacity),
                         hn::Set(d, sprite.blue * sprite.opacity)};
  for (int y = window.top; y < window.bottom; ++y) {
    const float dy = static_cast<float>(y) + 0.5F - centreY;
    const Float uRow = hn::Set(d, dy * turn.uDown), vRow = hn::Set(d, dy * turn.vDown);
    int left = window.left, right = window.right;
    clipRow(turn, -1, dy, centreX, left, right);
    for (int x = left; x < right; x += lanes) {
      const Float dx = hn::Sub(hn::Iota(d, static_cast<float>(x)), hn::Set(d, centreX - 0.5F));
      const Float u = hn::Add(hn::Mul(dx, hn::Set(d, turn.uAcross)), uRow);
      const Float v = hn::Add(hn::Mul(dx, hn::Set(d, turn.vAcross)), vRow);
      const std::size_t at = static_cast<std::size_t>(y) * Tile::kStride + static_cast<std::size_t>(x);
      blend<kBlend>(source.at(u, v), tint, opacity, tile, at);
    }
  }
}

// Where a pixel lies between a corner of a triangle and the edge opposite, as how many pixels it is within
// that edge, plus one. Edges fade over a pixel outwards and are full up to the edge itself, so that
// neighbours leave no gap between them.
struct TriangleEdge {
  TriangleEdge(float atCentre, float shareAcross, float shareDown, float pixelsHigh, bool joins)
      : pixels(joins ? pixelsHigh * kSharp : pixelsHigh),
        first(atCentre * pixels + 1),
        across(shareAcross * pixels),
        down(shareDown * pixels) {}

  // An edge that joins fades within this part of a pixel.
  static constexpr float kSharp = 4096;

  float pixels;  // from the edge to the corner
  float first, across, down;
};

// The part of the window that lies no more than a pixel outside of a triangle's box. Without it, the faded
// edges of one that is seen nearly edge-on would meet far beyond its corners.
inline Window boxOf(const SpriteTurn& turn, const Window& window, float centreX, float centreY) {
  // The corners, from the first one, are the columns of the turn's inverse.
  const float scale = 1 / (turn.uAcross * turn.vDown - turn.uDown * turn.vAcross);
  const float x[2] = {turn.vDown * scale, -turn.uDown * scale};
  const float y[2] = {-turn.vAcross * scale, turn.uAcross * scale};
  const auto place = [](float pixel) { return static_cast<int>(std::clamp(pixel, 0.0F, kTileSize + 1.0F)); };
  return {std::max(window.left, place(centreX + std::min({0.0F, x[0], x[1]}) - 1)),
          std::min(window.right, place(centreX + std::max({0.0F, x[0], x[1]}) + 2)),
          std::max(window.top, place(centreY + std::min({0.0F, y[0], y[1]}) - 1)),
          std::min(window.bottom, place(centreY + std::max({0.0F, y[0], y[1]}) + 2))};
}

// Smaller triangles show one light all over: a pixel could not tell.
constexpr float kFlatPixels = 3;

// A triangle under light.
template <Blend kBlend, bool kFlat>
void drawTriangle(const Sprite& sprite, const SpriteTurn& turn, const Window& window, float centreX,
                  float centreY, Tile& tile) {
  const Tag d;
  const int lanes = static_cast<int>(hn::Lanes(d));
  const float wAcross = -(turn.uAcross + turn.vAcross), wDown = -(turn.uDown + turn.vDown);
  const float wPixels = 1 / std::max(std::sqrt(wAcross * wAcross + wDown * wDown), 1e-9F);
  const TriangleEdge edges[3] = {{0, turn.uAcross, turn.uDown, 0.5F * turn.pixelsWide, turn.joins[0]},
                                 {0, turn.vAcross, turn.vDown, 0.5F * turn.pixelsHigh, turn.joins[1]},
                                 {1, wAcross, wDown, wPixels, turn.joins[2]}};
  const Float one = hn::Set(d, 1.0F), opacity = hn::Set(d, sprite.opacity);
  Float across[3], corner[3], tint[3];
  const float color[3] = {sprite.red, sprite.green, sprite.blue};
  for (int i = 0; i < 3; ++i) {
    across[i] = hn::Set(d, edges[i].across);
    // Nor beyond the corner, where the faded edges of a narrow triangle meet far out.
    corner[i] = hn::Set(d, edges[i].pixels + 2);
    const float light = kFlat ? (turn.light[0][i] + turn.light[1][i] + turn.light[2][i]) / 3 : 1;
    tint[i] = hn::Set(d, color[i] * sprite.opacity * light);
  }
  const Window box = boxOf(turn, window, centreX, centreY);
  for (int y = box.top; y < box.bottom; ++y) {
    const float dy = static_cast<float>(y) + 0.5F - centreY;
    Float row[3];
    for (int i = 0; i < 3; ++i) row[i] = hn::Set(d, edges[i].first + dy * edges[i].down);
    int left = box.left, right = box.right;
    if (right - left > lanes) clipRow(turn, 0, dy, centreX, left, right);
    for (int x = left; x < right; x += lanes) {
      const Float dx = hn::Sub(hn::Iota(d, static_cast<float>(x)), hn::Set(d, centreX - 0.5F));
      Float within[3], cover = one;
      for (int i = 0; i < 3; ++i) {
        within[i] = hn::Add(row[i], hn::Mul(dx, across[i]));
        cover = hn::Min(cover, hn::Min(within[i], hn::Sub(corner[i], within[i])));
      }
      if (hn::AllTrue(d, hn::Le(cover, hn::Zero(d)))) continue;
      cover = hn::Max(cover, hn::Zero(d));
      Light light{cover, cover, cover, cover};
      if constexpr (!kFlat) {
        const auto share = [&](int i) {
          return clampUnit(hn::Mul(hn::Sub(within[i], one), hn::Set(d, 1 / edges[i].pixels)));
        };
        const Float u = share(0), v = share(1);
        const auto lit = [&](int channel) {
          const float at = turn.light[0][channel];
          const Float more = hn::Add(hn::Mul(u, hn::Set(d, turn.light[1][channel] - at)),
                                     hn::Mul(v, hn::Set(d, turn.light[2][channel] - at)));
          return hn::Mul(hn::Max(hn::Zero(d), hn::Add(hn::Set(d, at), more)), cover);
        };
        light = {lit(0), lit(1), lit(2), cover};
      }
      const std::size_t at = static_cast<std::size_t>(y) * Tile::kStride + static_cast<std::size_t>(x);
      blend<kBlend>(light, tint, opacity, tile, at);
    }
  }
}

template <Blend kBlend>
void drawTriangle(const Sprite& sprite, const SpriteTurn& turn, const Window& window, float x, float y,
                  Tile& tile) {
  const bool isFlat = (turn.light[0] == turn.light[1] && turn.light[0] == turn.light[2]) ||
                      std::max(turn.reachX, turn.reachY) < kFlatPixels;
  if (isFlat)
    drawTriangle<kBlend, true>(sprite, turn, window, x, y, tile);
  else
    drawTriangle<kBlend, false>(sprite, turn, window, x, y, tile);
}

inline void drawTriangle(const Sprite& sprite, Blend blend, const SpriteTurn& turn, const Window& window,
                         float x, float y, Tile& tile) {
  switch (blend) {
    case Blend::Normal:
      return drawTriangle<Blend::Normal>(sprite, turn, window, x, y, tile);
    case Blend::Additive:
      return drawTriangle<Blend::Additive>(sprite, turn, window, x, y, tile);
    case Blend::Screen:
      return drawTriangle<Blend::Screen>(sprite, turn, window, x, y, tile);
    case Blend::Multiply:
      return drawTriangle<Blend::Multiply>(sprite, turn, window, x, y, tile);
  }
}

template <typename Source>
void drawWithSource(const Sprite& sprite, const SpriteProfile& profile, const SpriteTurn& turn,
                    const Window& window, float x, float y, Tile& tile) {
  const Source source(sprite, profile, turn);
  switch (profile.blend) {
    case Blend::Normal:
      return drawTurned<Source, Blend::Normal>(sprite, turn, source, window, x, y, tile);
    case Blend::Additive:
      return drawTurned<Source, Blend::Additive>(sprite, turn, source, window, x, y, tile);
    case Blend::Screen:
      return drawTurned<Source, Blend::Screen>(sprite, turn, source, window, x, y, tile);
    case Blend::Multiply:
      return drawTurned<Source, Blend::Multiply>(sprite, turn, source, window, x, y, tile);
  }
}

inline void draw(const Sprite& sprite, const SpriteProfile& profile, const SpriteTurn& turn,
                 const Window& window, float x, float y, Tile& tile) {
  if (profile.type == SpriteProfile::Type::Triangle)
    return drawTriangle(sprite, profile.blend, turn, window, x, y, tile);
  if (profile.type == SpriteProfile::Type::Star)
    return drawWithSource<StarSource>(sprite, profile, turn, window, x, y, tile);
  if (profile.type != SpriteProfile::Type::Stamp)
    return drawWithSource<DiscSource>(sprite, profile, turn, window, x, y, tile);
  switch ((*profile.stamps)[turn.stamp].kind()) {
    case Stamp::Kind::Coverage:
      return drawWithSource<StampSource<Stamp::Kind::Coverage>>(sprite, profile, turn, window, x, y, tile);
    case Stamp::Kind::Grey:
      return drawWithSource<StampSource<Stamp::Kind::Grey>>(sprite, profile, turn, window, x, y, tile);
    case Stamp::Kind::Color:
      return drawWithSource<StampSource<Stamp::Kind::Color>>(sprite, profile, turn, window, x, y, tile);
  }
}

}  // namespace turned

}  // namespace HWY_NAMESPACE
}  // namespace comet
HWY_AFTER_NAMESPACE();

#endif
