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
#include <type_traits>

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

HWY_INLINE Float lerp(Float a, Float b, Float t) { return hn::Add(a, hn::Mul(hn::Sub(b, a), t)); }

// Between which texels of a row, or of a column, a position from -1 to 1 lies.
class TexelAxis {
 public:
  explicit TexelAxis(int size)
      : half_(0.5F * static_cast<float>(size)), last_(static_cast<float>(size - 1)) {}

  // The texel before it, and what part of the way to the next one it lies. Beyond the outermost ones it is
  // theirs.
  HWY_INLINE Float before(Float position, Float& part) const {
    const Tag d;
    const Float at = hn::Add(hn::Mul(position, hn::Set(d, half_)), hn::Set(d, half_ - 0.5F));
    const Float inside = hn::Max(hn::Zero(d), hn::Min(hn::Set(d, last_), at));
    const Float texel = hn::Floor(inside);
    part = hn::Sub(inside, texel);
    return texel;
  }
  HWY_INLINE Float next(Float texel) const {
    const Tag d;
    return hn::Min(hn::Set(d, last_), hn::Add(texel, hn::Set(d, 1.0F)));
  }

 private:
  float half_, last_;
};

// Loads of neighbouring values at as many positions as a vector has lanes: the first of each position, the
// second of each, and so on. Each position is one load, which is faster than gathering values one by one.
template <typename T>
struct Neighbours {
  using ValueTag = hn::Rebind<T, Tag>;
  using Values = hn::Vec<ValueTag>;
  using Positions = hn::Vec<IntTag>;

#if HWY_TARGET == HWY_SCALAR
  static void two(const T* from, Positions positions, Values* values) { each<2>(from, positions, values); }
  static void four(const T* from, Positions positions, Values* values) { each<4>(from, positions, values); }

 private:
  template <std::size_t kCount>
  static void each(const T* from, Positions positions, Values* values) {
    for (std::size_t i = 0; i < kCount; ++i)
      values[i] = hn::Set(ValueTag(), from[hn::GetLane(positions) + static_cast<int>(i)]);
  }
#else
  static HWY_INLINE void two(const T* from, Positions positions, Values* values) {
    HWY_ALIGN std::int32_t at[kLanes];
    hn::Store(positions, IntTag(), at);
    const Values low = load<2, kLanes / 2>(from, at, 1), high = load<2, kLanes / 2>(from, at + kLanes / 2, 1);
    values[0] = hn::ConcatEven(ValueTag(), high, low);
    values[1] = hn::ConcatOdd(ValueTag(), high, low);
  }
  // A vector's block of 128 bits holds the four of one position, and then, turned about, one of each.
  static HWY_INLINE void four(const T* from, Positions positions, Values* values) {
    HWY_ALIGN std::int32_t at[kLanes];
    hn::Store(positions, IntTag(), at);
    Values loaded[4];
    for (std::size_t i = 0; i < 4; ++i) loaded[i] = load<4, kLanes / 4>(from, at + i, 4);
    const ValueTag d;
    const hn::Repartition<std::uint64_t, ValueTag> pairs;
    const auto lower = [&](std::size_t i) {
      return hn::BitCast(pairs, hn::InterleaveLower(d, loaded[i], loaded[i + 1]));
    };
    const auto upper = [&](std::size_t i) {
      return hn::BitCast(pairs, hn::InterleaveUpper(d, loaded[i], loaded[i + 1]));
    };
    const auto firstTwo = lower(0), firstTwoOn = lower(2), lastTwo = upper(0), lastTwoOn = upper(2);
    values[0] = hn::BitCast(d, hn::InterleaveLower(pairs, firstTwo, firstTwoOn));
    values[1] = hn::BitCast(d, hn::InterleaveUpper(pairs, firstTwo, firstTwoOn));
    values[2] = hn::BitCast(d, hn::InterleaveLower(pairs, lastTwo, lastTwoOn));
    values[3] = hn::BitCast(d, hn::InterleaveUpper(pairs, lastTwo, lastTwoOn));
  }

 private:
  static constexpr std::size_t kLanes = hn::MaxLanes(Tag());

  // The values at every so many of the positions, side by side.
  template <std::size_t kValues, std::size_t kPositions>
  static HWY_INLINE auto load(const T* from, const std::int32_t* positions, std::size_t step) {
    if constexpr (kPositions == 1) {
      return hn::LoadU(hn::FixedTag<T, kValues>(), from + positions[0]);
    } else {
      constexpr std::size_t kHalf = kPositions / 2;
      return hn::Combine(hn::FixedTag<T, kValues * kPositions>(),
                         load<kValues, kHalf>(from, positions + kHalf * step, step),
                         load<kValues, kHalf>(from, positions, step));
    }
  }
#endif
};

// The texels of a picture, between which it is mixed.
class ColorTexels {
 public:
  explicit ColorTexels(const Stamp::Level& level)
      : across_(level.width), down_(level.height), rowStep_(4 * level.rowStep), values_(&level.colors->x) {}

  HWY_INLINE Light at(Float u, Float v) const {
    const IntTag di;
    Float right, below;
    const Float x = across_.before(u, right), y = down_.before(v, below);
    const auto corner = [&](Float column, Float row, Float* values) {
      const auto texel = hn::ShiftLeft<2>(hn::ConvertTo(di, column));
      Neighbours<float>::four(values_, hn::Add(hn::Mul(hn::ConvertTo(di, row), hn::Set(di, rowStep_)), texel),
                              values);
    };
    Float topLeft[4], topRight[4], bottomLeft[4], bottomRight[4], mixed[4];
    corner(x, y, topLeft);
    corner(across_.next(x), y, topRight);
    corner(x, down_.next(y), bottomLeft);
    corner(across_.next(x), down_.next(y), bottomRight);
    for (std::size_t i = 0; i < 4; ++i)
      mixed[i] =
          lerp(lerp(topLeft[i], topRight[i], right), lerp(bottomLeft[i], bottomRight[i], right), below);
    return {mixed[0], mixed[1], mixed[2], mixed[3]};
  }

 private:
  TexelAxis across_, down_;
  int rowStep_;
  const float* values_;
};

// The packed texels of a stamp without colour (Stamp::Level::pairs).
template <Stamp::Kind kKind>
class PackedTexels {
 public:
  explicit PackedTexels(const Stamp::Level& level)
      : across_(level.width), down_(level.height), rowStep_(kTexelStep * level.width), pairs_(level.pairs) {}

  HWY_INLINE Light at(Float u, Float v) const {
    const IntTag di;
    Float right, below;
    const auto x = hn::ConvertTo(di, across_.before(u, right)), y = hn::ConvertTo(di, down_.before(v, below));
    const auto first = hn::Add(hn::Mul(y, hn::Set(di, rowStep_)), hn::Mul(x, hn::Set(di, kTexelStep)));
    const auto mixed = [&](Pairs top, Pairs bottom) {
      return hn::Mul(lerp(mixedPair(top, right), mixedPair(bottom, right), below),
                     hn::Set(Tag(), 1 / Stamp::kPackedOne));
    };
    Pairs pairs[kTexelStep];
    if constexpr (kKind == Stamp::Kind::Grey) {
      Neighbours<std::uint32_t>::four(pairs_, first, pairs);
      const Float light = mixed(pairs[0], pairs[1]);
      return {light, light, light, mixed(pairs[2], pairs[3])};
    } else {
      Neighbours<std::uint32_t>::two(pairs_, first, pairs);
      const Float cover = mixed(pairs[0], pairs[1]);
      return {cover, cover, cover, cover};
    }
  }

 private:
  static constexpr int kTexelStep = kKind == Stamp::Kind::Grey ? 4 : 2;
  using Pairs = Neighbours<std::uint32_t>::Values;

  static HWY_INLINE Float mixedPair(Pairs pairs, Float right) {
    const Tag d;
    const IntTag di;
    const auto left = hn::BitCast(di, hn::And(pairs, hn::Set(hn::RebindToUnsigned<Tag>(), 0xFFFF)));
    const auto next = hn::BitCast(di, hn::ShiftRight<16>(pairs));
    return lerp(hn::ConvertTo(d, left), hn::ConvertTo(d, next), right);
  }

  TexelAxis across_, down_;
  int rowStep_;
  const std::uint32_t* pairs_;
};

template <Stamp::Kind kKind>
using Texels = std::conditional_t<kKind == Stamp::Kind::Color, ColorTexels, PackedTexels<kKind>>;

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
        radius_(sprite.radius) {}

  // In u and v.
  float reach() const { return coverage_.reach / radius_; }

  Light at(Float u, Float v) const {
    const Tag d;
    const Float squared = hn::Mul(hn::Add(hn::Mul(u, u), hn::Mul(v, v)), hn::Set(d, radius_ * radius_));
    Float cover = isSoft_ ? rampAt<true>(coverage_.outer, squared) : rampAt<false>(coverage_.outer, squared);
    if (coverage_.open) cover = hn::Sub(cover, rampAt<false>(coverage_.inner, squared));
    return {cover, cover, cover, cover};
  }

 private:
  Coverage coverage_;
  bool isSoft_;
  float radius_;
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

  static float reach() { return Stamp::kWholeReach; }

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
      : StampSource(*profile.stamps, turn, levelOf((*profile.stamps)[turn.stamp], turn)) {}

  // In u and v.
  float reach() const { return reach_; }

  HWY_INLINE Light at(Float u, Float v) const {
    const Tag d;
    Light light = first_.at(u, v);
    if (turn_.mix > 0) {
      const Light next = second_.at(u, v);
      const Float t = hn::Set(d, turn_.mix);
      light = {lerp(light.red, next.red, t), lerp(light.green, next.green, t), lerp(light.blue, next.blue, t),
               lerp(light.cover, next.cover, t)};
    }
    // What ends before its edges needs none.
    if (reach_ < Stamp::kWholeReach) return light;
    const Float edge = rectangleCover(turn_, u, v);
    return {hn::Mul(light.red, edge), hn::Mul(light.green, edge), hn::Mul(light.blue, edge),
            hn::Mul(light.cover, edge)};
  }

 private:
  StampSource(const StampSet& stamps, const SpriteTurn& turn, const Stamp::Level& first)
      : StampSource(turn, first, turn.mix > 0 ? levelOf(stamps[turn.nextStamp], turn) : first) {}
  StampSource(const SpriteTurn& turn, const Stamp::Level& first, const Stamp::Level& second)
      : turn_(turn), first_(first), second_(second), reach_(std::max(first.reach, second.reach)) {}

  static const Stamp::Level& levelOf(const Stamp& stamp, const SpriteTurn& turn) {
    return stamp.levelFor(turn.pixelsWide, turn.pixelsHigh);
  }

  const SpriteTurn& turn_;
  Texels<kKind> first_, second_;
  float reach_;
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

// Which pixels of a row a sprite may cover, of which nothing is farther from its centre than `reach` in u and
// v.
class TurnedRows {
 public:
  TurnedRows(const SpriteTurn& turn, float reach, float centreX)
      : turn_(turn),
        centreX_(centreX),
        squaredAcross_(turn.uAcross * turn.uAcross + turn.vAcross * turn.vAcross),
        isRound_(reach < kRound && squaredAcross_ > 1e-12F),
        middle_(-(turn.uAcross * turn.uDown + turn.vAcross * turn.vDown) / squaredAcross_),
        squaredDown_((turn.uDown * turn.uDown + turn.vDown * turn.vDown) / squaredAcross_),
        squaredReach_(reach * reach / squaredAcross_) {}

  // Narrows them down. `dy` is the row's distance from the centre.
  void clip(float dy, int& left, int& right) const {
    if (isRound_) {
      // Where u² + v², which is a square of dx, is the reach's.
      const float middle = middle_ * dy;
      const float half = std::sqrt(std::max(0.0F, middle * middle - squaredDown_ * dy * dy + squaredReach_));
      narrow(middle - half, middle + half, left, right);
    } else {
      clipEdges(turn_.uAcross, turn_.uDown * dy, turn_.pixelsWide, left, right);
      clipEdges(turn_.vAcross, turn_.vDown * dy, turn_.pixelsHigh, left, right);
    }
  }

 private:
  // From here on the square is no larger than the circle.
  static constexpr float kRound = 1.13F;

  // Neither u nor v lies beyond its edges, at -1 and 1, by more than half a pixel.
  void clipEdges(float across, float atCentre, float pixels, int& left, int& right) const {
    const float half = 1 / std::max(pixels, 1e-3F);
    const float from = -1 - half - atCentre, to = 1 + half - atCentre;
    if (std::abs(across) < 1e-9F) {
      if (from > 0 || to < 0) right = left;
      return;
    }
    const float a = from / across, b = to / across;
    narrow(std::min(a, b), std::max(a, b), left, right);
  }
  void narrow(float from, float to, int& left, int& right) const {
    // Clamped before the conversion, which large numbers would not survive.
    const auto place = [this](float dx) { return std::clamp(centreX_ + dx, 0.0F, kTileSize + 1.0F); };
    // A pixel's centre lies half a pixel beyond its edge; conversion rounds down.
    left = std::max(left, static_cast<int>(place(from + 0.5F)));
    right = std::min(right, static_cast<int>(place(to + 0.5F)));
  }

  const SpriteTurn& turn_;
  float centreX_;
  float squaredAcross_;
  bool isRound_;
  float middle_, squaredDown_, squaredReach_;
};

template <typename Source, Blend kBlend>
void drawTurned(const Sprite& sprite, const SpriteTurn& turn, const Source& source, const Window& window,
                float centreX, float centreY, Tile& tile) {
  const Tag d;
  const int lanes = static_cast<int>(hn::Lanes(d));
  const Float opacity = hn::Set(d, sprite.opacity);
  const Float tint[3] = {hn::Set(d, sprite.red * sprite.opacity), hn::Set(d, sprite.green * sprite.opacity),
                         hn::Set(d, sprite.blue * sprite.opacity)};
  const TurnedRows rows(turn, source.reach(), centreX);
  for (int y = window.top; y < window.bottom; ++y) {
    const float dy = static_cast<float>(y) + 0.5F - centreY;
    const Float uRow = hn::Set(d, dy * turn.uDown), vRow = hn::Set(d, dy * turn.vDown);
    int left = window.left, right = window.right;
    rows.clip(dy, left, right);
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
