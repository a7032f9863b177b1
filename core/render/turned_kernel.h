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

HWY_INLINE Float saturate(Float x) {
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
    const auto place = [&](Float fraction, int size, Float& whole, Float& next) {
      const Float last = hn::Set(d, static_cast<float>(size - 1));
      const Float at = hn::Sub(
          hn::Mul(hn::Add(hn::Mul(fraction, half), half), hn::Set(d, static_cast<float>(size))), half);
      const Float inside = hn::Max(hn::Zero(d), hn::Min(last, at));
      whole = hn::Floor(inside);
      next = hn::Min(last, hn::Add(whole, hn::Set(d, 1.0F)));
      return hn::Sub(inside, whole);
    };
    Float x0, x1, y0, y1;
    right_ = place(u, level.width, x0, x1);
    below_ = place(v, level.height, y0, y1);
    const auto rowStep = hn::Set(di, level.rowStep), texelStep = hn::Set(di, level.texelStep);
    const auto index = [&](Float x, Float y) {
      return hn::Add(hn::Mul(hn::ConvertTo(di, y), rowStep), hn::Mul(hn::ConvertTo(di, x), texelStep));
    };
    topLeft_ = index(x0, y0);
    topRight_ = index(x1, y0);
    bottomLeft_ = index(x0, y1);
    bottomRight_ = index(x1, y1);
  }

  Float sample(const float* plane) const {
    const Tag d;
    const auto lerp = [](Float a, Float b, Float t) { return hn::Add(a, hn::Mul(hn::Sub(b, a), t)); };
    return lerp(lerp(hn::GatherIndex(d, plane, topLeft_), hn::GatherIndex(d, plane, topRight_), right_),
                lerp(hn::GatherIndex(d, plane, bottomLeft_), hn::GatherIndex(d, plane, bottomRight_), right_),
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
  const auto edge = [&](Float fraction, float pixels) {
    return saturate(hn::Add(hn::Mul(hn::Sub(one, hn::Abs(fraction)), hn::Set(d, 0.5F * pixels)), half));
  };
  return hn::Mul(edge(u, turn.pixelsWide), edge(v, turn.pixelsHigh));
}

template <bool kSmooth>
HWY_INLINE Float rampAt(const Ramp& ramp, Float squared) {
  const Tag d;
  const Float t = saturate(hn::Sub(hn::Set(d, ramp.full), hn::Mul(hn::Set(d, ramp.fall), squared)));
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
      paths_[i] = Vec2(Vec2d(std::sin(angle), -std::cos(angle)));
    }
  }

  Light at(Float u, Float v) const {
    const Tag d;
    Float along = hn::Set(d, -1e9F);
    for (int i = 0; i < points_; ++i)
      along =
          hn::Max(along, hn::Add(hn::Mul(u, hn::Set(d, paths_[i].x)), hn::Mul(v, hn::Set(d, paths_[i].y))));
    const Float squared = hn::Sub(hn::Add(hn::Mul(u, u), hn::Mul(v, v)), hn::Mul(along, along));
    const Float across = hn::Sqrt(hn::Max(hn::Zero(d), squared));
    const Float beyond = hn::Add(hn::Mul(across, hn::Set(d, edge_.x)),
                                 hn::Mul(hn::Sub(along, hn::Set(d, 1.0F)), hn::Set(d, edge_.y)));
    const Float cover = saturate(hn::Sub(hn::Set(d, 0.5F), hn::Mul(beyond, hn::Set(d, pixels_))));
    return {cover, cover, cover, cover};
  }

 private:
  static constexpr int kMaxPoints = 12;

  Vec2 edge_;
  int points_;
  float pixels_;
  std::array<Vec2, kMaxPoints> paths_;
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
      const auto lerp = [&t](Float a, Float b) { return hn::Add(a, hn::Mul(hn::Sub(b, a), t)); };
      light = {lerp(light.red, next.red), lerp(light.green, next.green), lerp(light.blue, next.blue),
               lerp(light.cover, next.cover)};
    }
    return {hn::Mul(light.red, edge), hn::Mul(light.green, edge), hn::Mul(light.blue, edge),
            hn::Mul(light.cover, edge)};
  }

 private:
  Light of(const Stamp& stamp, Float u, Float v) const {
    const Stamp::Level& level = stamp.levelFor(turn_.pixelsWide, turn_.pixelsHigh);
    const Texels texels(level, u, v);
    const Float cover = texels.sample(level.plane(0));
    if constexpr (kKind == Stamp::Kind::Grey) return {cover, cover, cover, texels.sample(level.plane(1))};
    if constexpr (kKind == Stamp::Kind::Color)
      return {cover, texels.sample(level.plane(1)), texels.sample(level.plane(2)),
              texels.sample(level.plane(3))};
    return {cover, cover, cover, cover};
  }

  const SpriteTurn& turn_;
  const Stamp& first_;
  const Stamp& second_;
};

// What lies behind is kept to a fraction, and the sprite's own light is added.
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

// The pixels of a row, within the window, where neither u nor v is beyond the sprite's edges, at -1 and 1, by
// more than a pixel. `dy` is the row's distance from the centre.
inline void clipRow(const SpriteTurn& turn, float dy, float centreX, int& left, int& right) {
  const auto clip = [&](float across, float down, float pixels) {
    const float pixel = 2 / std::max(pixels, 1e-3F), atCentre = down * dy;
    const float from = -1 - pixel - atCentre, to = 1 + pixel - atCentre;
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
    clipRow(turn, dy, centreX, left, right);
    for (int x = left; x < right; x += lanes) {
      const Float dx = hn::Sub(hn::Iota(d, static_cast<float>(x)), hn::Set(d, centreX - 0.5F));
      const Float u = hn::Add(hn::Mul(dx, hn::Set(d, turn.uAcross)), uRow);
      const Float v = hn::Add(hn::Mul(dx, hn::Set(d, turn.vAcross)), vRow);
      const std::size_t at = static_cast<std::size_t>(y) * Tile::kStride + static_cast<std::size_t>(x);
      blend<kBlend>(source.at(u, v), tint, opacity, tile, at);
    }
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
