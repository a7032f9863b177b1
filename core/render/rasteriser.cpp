#include "render/rasteriser.h"

#include "base/parallel.h"
#include "render/coverage.h"
#include "render/tile.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <limits>
#include <numeric>
#include <tbb/enumerable_thread_specific.h>

namespace comet {
namespace {

struct TileRange {
  std::uint16_t left, right, top, bottom;  // all included
};

// Orders sprites by falling depth, equal ones as they were. Least significant digit radix sort.
class DepthSort {
 public:
  const std::uint32_t* order(const Sprite* sprites, std::size_t count, float Sprite::*by) {
    keys_.resize(count);
    order_.resize(count);
    nextKeys_.resize(count);
    nextOrder_.resize(count);
    for (std::size_t i = 0; i < count; ++i) keys_[i] = sortKey(sprites[i].*by);
    std::iota(order_.begin(), order_.end(), 0U);
    for (int shift = 0; shift < 32; shift += kDigitBits) pass(shift);
    return order_.data();
  }

 private:
  static constexpr int kDigitBits = 11;
  static constexpr std::uint32_t kDigits = 1U << kDigitBits;

  // Unsigned numbers that rise as the depth falls.
  static std::uint32_t sortKey(float depth) {
    std::uint32_t bits = 0;
    std::memcpy(&bits, &depth, sizeof bits);
    const bool negative = (bits >> 31) != 0;
    return negative ? bits : ~(bits | 0x80000000U);
  }

  void pass(int shift) {
    std::array<std::uint32_t, kDigits> starts{};
    for (const std::uint32_t key : keys_) ++starts[(key >> shift) & (kDigits - 1)];
    std::uint32_t sum = 0;
    for (std::uint32_t& start : starts) sum += std::exchange(start, sum);
    for (std::size_t i = 0; i < keys_.size(); ++i) {
      const std::uint32_t target = starts[(keys_[i] >> shift) & (kDigits - 1)]++;
      nextKeys_[target] = keys_[i];
      nextOrder_[target] = order_[i];
    }
    keys_.swap(nextKeys_);
    order_.swap(nextOrder_);
  }

  std::vector<std::uint32_t> keys_, nextKeys_, order_, nextOrder_;
};

struct Workspace {
  Tile tile, before, without;
  DepthSort sort;
  std::vector<float> hides;
  std::vector<GasSlab> gas;
};

// How far a sprite reaches from its centre to the sides and up and down, pixels.
Vec2 reachIn(const SpriteTables& tables, const Sprite& sprite) {
  const SpriteProfile& profile = tables.profiles[sprite.profile];
  if (profile.type == SpriteProfile::Type::Ribbon) return tables.pieces[sprite.turn].reach();
  if (profile.type == SpriteProfile::Type::Mesh) return tables.meshes[sprite.turn].reach;
  if (!profile.turned) return Vec2(reachOf(profile, sprite.radius));
  return {tables.turns[sprite.turn].reachX, tables.turns[sprite.turn].reachY};
}

// The part of a picture that a tile covers.
struct TilePlace {
  int left, top, right, bottom;
};

// The surfaces in a tile, and how sprites go behind them.
class TileSolids {
 public:
  TileSolids(const SolidLayer& solids, const TilePlace& place) : solids_(solids), place_(place) {
    if (solids.empty()) return;
    for (int y = place.top; y < place.bottom; ++y) {
      const float *depths = solids.depths(y), *covers = solids.covers(y);
      for (int x = place.left; x < place.right; ++x) {
        nearest_ = std::min(nearest_, depths[x]);
        farthest_ = std::max(farthest_, depths[x]);
        hasEdges_ = hasEdges_ || (covers[x] > 0 && covers[x] < 1);
      }
    }
  }

  void putColors(Tile& tile) const {
    if (!hidesAny()) return;
    for (int y = place_.top; y < place_.bottom; ++y)
      for (int x = place_.left; x < place_.right; ++x)
        for (std::size_t plane = 0; plane < tile.planes.size(); ++plane)
          tile.planes[plane][indexOf(x, y)] = solids_.colors().at(x, y)[static_cast<int>(plane)];
  }

  // The depth of what hides the rest of each pixel.
  void putDepths(std::vector<float>& depths) const {
    depths.clear();
    for (int y = place_.top; y < place_.bottom; ++y)
      depths.insert(depths.end(), solids_.depths(y) + place_.left, solids_.depths(y) + place_.right);
  }

  // Whether there is a surface in the tile at all.
  bool hidesAny() const { return !std::isinf(nearest_); }
  // Whether a pixel of the tile is covered in part.
  bool hasEdges() const { return hasEdges_; }
  // At pixels that are covered in part, adds what is seen beside the surface.
  void mixEdges(const Tile& without, Tile& tile) const {
    for (int y = place_.top; y < place_.bottom; ++y) {
      const float* covers = solids_.covers(y);
      for (int x = place_.left; x < place_.right; ++x) {
        if (covers[x] == 0 || covers[x] == 1) continue;
        for (std::size_t plane = 0; plane < tile.planes.size(); ++plane) {
          float& now = tile.planes[plane][indexOf(x, y)];
          const float beside = without.planes[plane][indexOf(x, y)];
          now = beside + (now - beside) * covers[x];
        }
      }
    }
  }
  // Nothing of it goes behind anything.
  bool isInFront(const Sprite& sprite) const {
    return sprite.distance <= nearest_ + kFadeFrom * sizeOf(sprite);
  }
  // Nothing of it comes before everything.
  bool isHidden(const Sprite& sprite) const {
    return sprite.distance >= farthest_ + (kFadeFrom + 1) * sizeOf(sprite);
  }

  // The part of the tile that a sprite may cover.
  TilePlace partOf(const Sprite& sprite, const Vec2& reach) const {
    const auto edge = [](float at, int from, int to) {
      return static_cast<int>(std::clamp(at, static_cast<float>(from), static_cast<float>(to)));
    };
    return {edge(sprite.x - reach.x, place_.left, place_.right),
            edge(sprite.y - reach.y, place_.top, place_.bottom),
            edge(sprite.x + reach.x + 1, place_.left, place_.right),
            edge(sprite.y + reach.y + 1, place_.top, place_.bottom)};
  }

  void keep(const TilePlace& part, const Tile& tile, Tile& before) const {
    const auto width = static_cast<std::size_t>(part.right - part.left);
    for (int y = part.top; y < part.bottom; ++y)
      for (std::size_t plane = 0; plane < tile.planes.size(); ++plane)
        std::copy_n(tile.planes[plane].data() + indexOf(part.left, y), width,
                    before.planes[plane].data() + indexOf(part.left, y));
  }

  // Of what a sprite has changed in a part, takes back what lies behind a surface.
  void takeBack(const Sprite& sprite, const TilePlace& part, const Tile& before, Tile& tile) const {
    const float size = std::max(sizeOf(sprite), 1e-6F);
    for (int y = part.top; y < part.bottom; ++y) {
      const float* depths = solids_.depths(y);
      for (int x = part.left; x < part.right; ++x) {
        const float behind = (sprite.distance - depths[x]) / size - kFadeFrom;
        if (behind <= 0) continue;
        const float fraction = std::min(1.0F, behind);
        for (std::size_t plane = 0; plane < tile.planes.size(); ++plane) {
          float& now = tile.planes[plane][indexOf(x, y)];
          now += (before.planes[plane][indexOf(x, y)] - now) * fraction;
        }
      }
    }
  }

 private:
  // What rests on a surface is seen whole: it fades only from half its radius behind it on.
  static constexpr float kFadeFrom = 0.5F;

  std::size_t indexOf(int x, int y) const {
    return static_cast<std::size_t>(y - place_.top) * Tile::kStride +
           static_cast<std::size_t>(x - place_.left);
  }
  // Its radius in the scene.
  float sizeOf(const Sprite& sprite) const {
    return sprite.radius * static_cast<float>(solids_.unitsPerPixel(sprite.distance));
  }

  const SolidLayer& solids_;
  TilePlace place_;
  float nearest_ = std::numeric_limits<float>::infinity(), farthest_ = 0;
  bool hasEdges_ = false;
};

void clear(Tile& tile) {
  for (Tile::Plane& plane : tile.planes) plane.fill(0.0F);
}

void copyTile(const Tile& tile, const TilePlace& place, Picture& picture) {
  for (int y = place.top; y < place.bottom; ++y) {
    Vec4* out = picture.row(y) + place.left;
    const std::size_t row = static_cast<std::size_t>(y - place.top) * Tile::kStride;
    for (int x = 0; x < place.right - place.left; ++x) {
      const std::size_t at = row + static_cast<std::size_t>(x);
      out[x] = Vec4(tile.planes[0][at], tile.planes[1][at], tile.planes[2][at], tile.planes[3][at]);
    }
  }
}

}  // namespace

struct Rasteriser::Buffers {
  int tilesAcross = 0, tilesDown = 0;
  bool someNeedOrder = false;            // whether any profile does
  std::vector<std::uint32_t> places;     // [span][tile]: where the span's next sprite for the tile goes
  std::vector<TileRange> ranges;         // of each span's sprites, one span after the other
  std::vector<std::size_t> rangeStart;   // where a span's ranges begin
  std::vector<std::uint32_t> tileStart;  // first sprite of each tile, and the end of the last
  std::vector<Sprite> binned;            // sprites by tile; one that touches several tiles is in each
  tbb::enumerable_thread_specific<std::unique_ptr<Workspace>> workspaces;

  std::size_t tileCount() const { return static_cast<std::size_t>(tilesAcross) * tilesDown; }

  TileRange tilesOf(const Sprite& sprite, const SpriteTables& tables) const {
    const Vec2 reach = reachIn(tables, sprite);
    const auto tile = [](float pixel, int count) {
      // Conversion rounds down, since nothing below zero is left.
      return static_cast<std::uint16_t>(std::clamp(pixel / kTileSize, 0.0F, static_cast<float>(count - 1)));
    };
    return {tile(sprite.x - reach.x, tilesAcross), tile(sprite.x + reach.x, tilesAcross),
            tile(sprite.y - reach.y, tilesDown), tile(sprite.y + reach.y, tilesDown)};
  }

  template <typename Visit>
  void forTiles(const TileRange& range, const Visit& visit) const {
    for (int y = range.top; y <= range.bottom; ++y)
      for (int x = range.left; x <= range.right; ++x) visit(static_cast<std::size_t>(y) * tilesAcross + x);
  }

  void bin(const std::vector<SpriteSpan>& spans, const SpriteTables& tables);
  void drawTile(std::size_t index, const SpriteTables& tables, const SolidLayer& solids, bool wantsColors,
                const GasLayer& gas, const GasPass& gasPass, Picture& picture);
};

namespace {

// Some sprites of a tile, in the order of their list.
struct TileSprites {
  const Sprite* sprites = nullptr;
  const std::uint32_t* order = nullptr;  // null for their own
  std::size_t count = 0;

  const Sprite& at(std::size_t i) const { return sprites[order ? order[i] : i]; }
  TileSprites part(std::size_t first, std::size_t end) const {
    return {order ? sprites : sprites + first, order ? order + first : nullptr, end - first};
  }
};

// In the order of the list: what comes before all surfaces as it is, the rest one by one.
void drawAmongSolids(const TileSolids& solids, const TileSprites& all, const SpriteTables& tables,
                     const TilePlace& place, Tile& before, Tile& tile) {
  const auto draw = [&](std::size_t first, std::size_t end) {
    const TileSprites some = all.part(first, end);
    drawIntoTile(some.sprites, some.order, some.count, tables, place.left, place.top, tile);
  };
  if (!solids.hidesAny()) return draw(0, all.count);
  std::size_t i = 0;
  while (i < all.count) {
    std::size_t end = i;
    while (end < all.count && solids.isInFront(all.at(end))) ++end;
    if (end > i) draw(i, end);
    i = end;
    if (i == all.count) return;
    if (!solids.isHidden(all.at(i))) {
      const TilePlace part = solids.partOf(all.at(i), reachIn(tables, all.at(i)));
      solids.keep(part, tile, before);
      draw(i, i + 1);
      solids.takeBack(all.at(i), part, before, tile);
    }
    ++i;
  }
}

// Sprites of a tile that lie in gas are drawn in so many groups at most, between pieces of the gas.
constexpr std::size_t kMaxGasGroups = 24;

// A piece of gas lies before all that the tile has so far.
void layOver(const std::vector<GasSlab>& pieces, std::size_t piece, std::size_t count, const TilePlace& place,
             Tile& tile) {
  std::size_t pixel = 0;
  for (int y = 0; y < place.bottom - place.top; ++y)
    for (int x = 0; x < place.right - place.left; ++x, ++pixel) {
      const GasSlab& slab = pieces[pixel * count + piece];
      const std::size_t at = static_cast<std::size_t>(y) * Tile::kStride + static_cast<std::size_t>(x);
      for (std::size_t plane = 0; plane < 3; ++plane) {
        float& now = tile.planes[plane][at];
        now = slab.light[static_cast<int>(plane)] + slab.transmittance * now;
      }
      float& cover = tile.planes[3][at];
      cover = 1 - slab.transmittance * (1 - cover);
    }
}

// Sprites, the farthest first, and the gas between them.
class GasAmongSprites {
 public:
  GasAmongSprites(const GasLayer& gas, const GasPass& pass, const TileSprites& all)
      : gas_(gas), pass_(pass), all_(all) {
    const GasLayer::Depths depths = gas.depths();
    const auto isBefore = [](double depth) {
      return [depth](const Sprite& sprite) { return sprite.distance < depth; };
    };
    behind_ = firstThat(isBefore(depths.far));
    before_ = firstThat(isBefore(depths.near));
    groups_ = std::min(kMaxGasGroups, before_ - behind_);
    // A group lies where its middle one lies.
    cuts_.push_back(depths.near);
    for (std::size_t group = groups_; group-- > 0;)
      cuts_.push_back(std::max(cuts_.back(),
                               static_cast<double>(all.at((start(group) + start(group + 1)) / 2).distance)));
    cuts_.push_back(depths.far);
  }

  void draw(const TileSolids& solids, const SpriteTables& tables, const TilePlace& place, Workspace& work,
            Tile& tile) const {
    if (solids.hidesAny()) solids.putDepths(work.hides);
    gas_.pieces({place.left, place.top, place.right - place.left, place.bottom - place.top}, cuts_, pass_,
                solids.hidesAny() ? work.hides.data() : nullptr, work.gas);
    const auto drawPart = [&](std::size_t first, std::size_t end) {
      if (end > first) drawAmongSolids(solids, all_.part(first, end), tables, place, work.before, tile);
    };
    drawPart(0, behind_);
    for (std::size_t group = 0; group <= groups_; ++group) {
      layOver(work.gas, groups_ - group, groups_ + 1, place, tile);
      if (group < groups_) drawPart(start(group), start(group + 1));
    }
    drawPart(before_, all_.count);
  }

 private:
  std::size_t start(std::size_t group) const {
    return behind_ + (before_ - behind_) * group / std::max<std::size_t>(1, groups_);
  }
  template <typename Is>
  std::size_t firstThat(const Is& is) const {
    std::size_t i = 0;
    while (i < all_.count && !is(all_.at(i))) ++i;
    return i;
  }

  const GasLayer& gas_;
  const GasPass& pass_;
  TileSprites all_;
  std::size_t behind_ = 0, before_ = 0, groups_ = 0;
  std::vector<double> cuts_;
};

}  // namespace

// Counting sort by tile, stable: a tile's sprites stay in the order of the spans.
void Rasteriser::Buffers::bin(const std::vector<SpriteSpan>& spans, const SpriteTables& tables) {
  const std::size_t tiles = tileCount();
  rangeStart.assign(1, 0);
  for (const SpriteSpan& span : spans) rangeStart.push_back(rangeStart.back() + span.count);
  if (ranges.size() < rangeStart.back()) ranges.resize(rangeStart.back());
  places.assign(spans.size() * tiles, 0);
  parallelFor(spans.size(), [&](std::size_t s) {
    std::uint32_t* counts = places.data() + s * tiles;
    TileRange* range = ranges.data() + rangeStart[s];
    for (std::size_t i = 0; i < spans[s].count; ++i) {
      const Sprite& sprite = spans[s].sprites[i];
      range[i] = tilesOf(sprite, tables);
      forTiles(range[i], [counts](std::size_t tile) { ++counts[tile]; });
    }
  });
  tileStart.resize(tiles + 1);
  std::uint32_t sum = 0;
  for (std::size_t tile = 0; tile < tiles; ++tile) {
    tileStart[tile] = sum;
    for (std::size_t s = 0; s < spans.size(); ++s) sum += std::exchange(places[s * tiles + tile], sum);
  }
  tileStart[tiles] = sum;
  if (binned.size() < sum) binned.resize(sum);
  parallelFor(spans.size(), [&](std::size_t s) {
    std::uint32_t* next = places.data() + s * tiles;
    const TileRange* range = ranges.data() + rangeStart[s];
    for (std::size_t i = 0; i < spans[s].count; ++i)
      forTiles(range[i], [&](std::size_t tile) { binned[next[tile]++] = spans[s].sprites[i]; });
  });
}

void Rasteriser::Buffers::drawTile(std::size_t index, const SpriteTables& tables, const SolidLayer& solids,
                                   bool wantsColors, const GasLayer& gas, const GasPass& gasPass,
                                   Picture& picture) {
  std::unique_ptr<Workspace>& mine = workspaces.local();
  if (!mine) mine = std::make_unique<Workspace>();
  clear(mine->tile);
  const Sprite* sprites = binned.data() + tileStart[index];
  const std::size_t count = tileStart[index + 1] - tileStart[index];
  const bool orderMatters =
      someNeedOrder && std::any_of(sprites, sprites + count, [&tables](const Sprite& sprite) {
        return tables.profiles[sprite.profile].needsOrder();
      });
  const std::uint32_t* order = nullptr;
  if (!gas.empty())
    order = mine->sort.order(sprites, count, &Sprite::distance);
  else if (orderMatters)
    order = mine->sort.order(sprites, count, &Sprite::depth);
  const int left = static_cast<int>(index % static_cast<std::size_t>(tilesAcross)) * kTileSize;
  const int top = static_cast<int>(index / static_cast<std::size_t>(tilesAcross)) * kTileSize;
  const TilePlace place{left, top, std::min(left + kTileSize, picture.width()),
                        std::min(top + kTileSize, picture.height())};
  const TileSolids tileSolids(solids, place);
  if (wantsColors) tileSolids.putColors(mine->tile);
  const TileSprites all{sprites, order, count};
  const auto drawAll = [&](const TileSolids& among, Tile& tile) {
    if (gas.empty())
      drawAmongSolids(among, all, tables, place, mine->before, tile);
    else
      GasAmongSprites(gas, gasPass, all).draw(among, tables, place, *mine, tile);
  };
  drawAll(tileSolids, mine->tile);
  if (tileSolids.hasEdges()) {
    clear(mine->without);
    drawAll(TileSolids(SolidLayer(), place), mine->without);
    tileSolids.mixEdges(mine->without, mine->tile);
  }
  copyTile(mine->tile, place, picture);
}

Rasteriser::Rasteriser() : buffers_(std::make_unique<Buffers>()) {}
Rasteriser::~Rasteriser() = default;
Rasteriser::Rasteriser(Rasteriser&&) noexcept = default;
Rasteriser& Rasteriser::operator=(Rasteriser&&) noexcept = default;

void Rasteriser::draw(const std::vector<SpriteSpan>& spans, const SpriteTables& tables, Picture& picture,
                      const SolidLayer& solids, bool wantsColors, const GasLayer& gas, const GasPass& gasPass,
                      const Progress& progress) {
  if (picture.empty()) return;
  buffers_->tilesAcross = (picture.width() + kTileSize - 1) / kTileSize;
  buffers_->tilesDown = (picture.height() + kTileSize - 1) / kTileSize;
  buffers_->someNeedOrder = std::any_of(tables.profiles.begin(), tables.profiles.end(),
                                        [](const SpriteProfile& profile) { return profile.needsOrder(); });
  buffers_->bin(spans, tables);
  parallelFor(buffers_->tileCount(), [&](std::size_t tile) {
    if (!progress.cancelled()) buffers_->drawTile(tile, tables, solids, wantsColors, gas, gasPass, picture);
  });
  progress.stopIfCancelled();
}

}  // namespace comet
