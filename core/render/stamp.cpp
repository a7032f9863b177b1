#include "render/stamp.h"

#include "base/noise.h"
#include "base/parallel.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <utility>

namespace comet {
namespace {

constexpr int kStreakWidth = 32, kStreakHeight = 128;
constexpr int kPuffSize = 128;

// The centre of a texel, -1 to 1 over the stamp.
double centre(int texel, int size) { return (2.0 * texel + 1) / size - 1; }

template <typename Value>
std::vector<float> filled(int width, int height, int planes, const Value& value) {
  std::vector<float> samples(static_cast<std::size_t>(width) * height * planes);
  const std::size_t plane = static_cast<std::size_t>(width) * height;
  parallelFor(static_cast<std::size_t>(height), [&](std::size_t row) {
    const int y = static_cast<int>(row);
    for (int x = 0; x < width; ++x)
      value(centre(x, width), centre(y, height),
            [&](int p, double v) { samples[p * plane + row * width + x] = static_cast<float>(v); });
  });
  return samples;
}

double smoothRamp(double from, double to, double x) {
  const double t = std::clamp((x - from) / (to - from), 0.0, 1.0);
  return t * t * (3 - 2 * t);
}

// A ball whose rim is eaten away and whose inside is stirred by noise in several octaves.
void puffTexel(double x, double y, int variant, double detail, double& light, double& cover) {
  const auto pattern = static_cast<std::uint64_t>(variant) * 977 + 5;
  // The noise is looked up at places that noise has moved, which makes billows of it.
  const Vec3d place(x, y, variant);
  const Vec3d moved = place * 1.4 + 0.6 * smoothNoise3(place * 1.3, pattern);
  double lumps = 0, weight = 0.5;
  for (int octave = 0; octave < 4; ++octave, weight *= 0.55)
    lumps += weight * smoothNoise(moved * std::exp2(octave), pattern + octave);
  const double distance = std::hypot(x, y) + detail * 0.55 * lumps;
  const double body = smoothRamp(0.92, 0.12, distance);
  // Nothing may reach the stamp's edge, or it would show as a line.
  cover = body * smoothRamp(1.0, 0.85, std::hypot(x, y)) * (1 - 0.35 * detail * smoothRamp(-0.1, 0.5, lumps));
  light = 1 - detail * 0.3 * smoothRamp(-0.35, 0.45, lumps);
}

// The fraction of each pixel that lies inside the polygon, by a grid of points in it.
double fractionInside(const std::vector<Vec2d>& polygon, double x, double y) {
  constexpr int kPoints = 4;
  int inside = 0;
  for (int row = 0; row < kPoints; ++row)
    for (int column = 0; column < kPoints; ++column)
      inside += isInside(polygon, {x + (column + 0.5) / kPoints, y + (row + 0.5) / kPoints}) ? 1 : 0;
  return static_cast<double>(inside) / (kPoints * kPoints);
}

Picture masked(const Picture& picture, const OutlinePoints& mask) {
  std::vector<Vec2d> polygon = polygonOf(mask);
  for (Vec2d& point : polygon) point *= Vec2d(picture.width(), picture.height());
  Picture result = picture;
  parallelFor(static_cast<std::size_t>(picture.height()), [&](std::size_t y) {
    Vec4* row = result.row(static_cast<int>(y));
    for (int x = 0; x < picture.width(); ++x)
      row[x] *= static_cast<float>(fractionInside(polygon, x, static_cast<double>(y)));
  });
  return result;
}

int halved(int size) { return std::max(1, size / 2); }

// How many texels the levels below one of this size have.
std::size_t texelsBelow(int width, int height) {
  std::size_t texels = 0;
  while (width > 1 || height > 1) {
    width = halved(width);
    height = halved(height);
    texels += static_cast<std::size_t>(width) * height;
  }
  return texels;
}

// The texels of the level below one of this size, where `at(x, y)` is a texel of that.
template <typename Texel, typename At>
void halve(int width, int height, const At& at, Texel* below) {
  parallelFor(static_cast<std::size_t>(halved(height)), [&](std::size_t row) {
    const int y = 2 * static_cast<int>(row), y0 = std::min(y, height - 1), y1 = std::min(y + 1, height - 1);
    for (int x = 0; x < halved(width); ++x) {
      const int x0 = std::min(2 * x, width - 1), x1 = std::min(2 * x + 1, width - 1);
      below[row * halved(width) + x] = 0.25F * (at(x0, y0) + at(x1, y0) + at(x0, y1) + at(x1, y1));
    }
  });
}

// A texel and its right neighbour.
std::uint32_t pairAt(const float* plane, int width, int x, int y) {
  const auto packed = [&](int column) {
    const float value = plane[static_cast<std::ptrdiff_t>(y) * width + std::min(column, width - 1)];
    return static_cast<std::uint32_t>(std::lround(std::clamp(value, 0.0F, 1.0F) * Stamp::kPackedOne));
  };
  return packed(x) | packed(x + 1) << 16;
}

// Beyond which distance from the centre a plane is nothing, if it goes on from a texel to its neighbours.
float reachOf(const float* plane, int width, int height) {
  double reach = 0;
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x) {
      if (plane[static_cast<std::ptrdiff_t>(y) * width + x] < 0.5F / Stamp::kPackedOne) continue;
      if (x == 0 || y == 0 || x == width - 1 || y == height - 1) return Stamp::kWholeReach;
      reach = std::max(reach, std::hypot(std::abs(centre(x, width)) + 2.0 / width,
                                         std::abs(centre(y, height)) + 2.0 / height));
    }
  return static_cast<float>(reach);
}

}  // namespace

Stamp::Stamp(Kind kind, int width, int height, std::vector<float> samples) : kind_(kind) {
  assert(kind != Kind::Color);
  // Levels point into it, so it must not move.
  pairs_.reserve(2 * (samples.size() + texelsBelow(width, height) * planes()));
  pack(width, height, samples);
  while (width > 1 || height > 1) {
    const std::size_t size = static_cast<std::size_t>(width) * height,
                      sizeBelow = static_cast<std::size_t>(halved(width)) * halved(height);
    std::vector<float> below(sizeBelow * planes());
    for (int p = 0; p < planes(); ++p)
      halve(
          width, height,
          [&](int x, int y) { return samples[p * size + static_cast<std::size_t>(y) * width + x]; },
          below.data() + p * sizeBelow);
    samples = std::move(below);
    width = halved(width);
    height = halved(height);
    pack(width, height, samples);
  }
}

Stamp::Stamp(std::shared_ptr<const Picture> picture, int left, int top, int width, int height)
    : kind_(Kind::Color), colors_(texelsBelow(width, height)), picture_(std::move(picture)) {
  levels_.push_back({width, height, picture_->row(top) + left, picture_->width()});
  std::size_t used = 0;
  while (levels_.back().width > 1 || levels_.back().height > 1) {
    const Level from = levels_.back();
    Vec4* below = colors_.data() + used;
    halve(
        from.width, from.height,
        [&](int x, int y) { return from.colors[static_cast<std::ptrdiff_t>(y) * from.rowStep + x]; }, below);
    levels_.push_back({halved(from.width), halved(from.height), below, halved(from.width)});
    used += static_cast<std::size_t>(halved(from.width)) * halved(from.height);
  }
}

void Stamp::pack(int width, int height, const std::vector<float>& samples) {
  const std::size_t first = pairs_.size(), size = static_cast<std::size_t>(width) * height;
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x)
      for (int p = 0; p < planes(); ++p)
        for (const int row : {y, std::min(y + 1, height - 1)})
          pairs_.push_back(pairAt(samples.data() + p * size, width, x, row));
  Level level{width, height};
  level.pairs = pairs_.data() + first;
  // Coverage is the last plane.
  level.reach = reachOf(samples.data() + (planes() - 1) * size, width, height);
  levels_.push_back(level);
}

float Stamp::coverage(int x, int y) const {
  const Level& finest = levels_.front();
  if (kind_ == Kind::Color) return finest.colors[static_cast<std::ptrdiff_t>(y) * finest.rowStep + x].w;
  const std::ptrdiff_t texel = static_cast<std::ptrdiff_t>(y) * finest.width + x;
  return static_cast<float>(finest.pairs[2 * (texel * planes() + planes() - 1)] & 0xFFFFU) / kPackedOne;
}

const Stamp::Level& Stamp::levelFor(float pixelsWide, float pixelsHigh) const {
  // The coarser direction decides, so that a narrow stamp stays sharp along its length.
  const float texels = std::min(static_cast<float>(width()) / std::max(pixelsWide, 1e-3F),
                                static_cast<float>(height()) / std::max(pixelsHigh, 1e-3F));
  const int level = texels > 1 ? static_cast<int>(std::lround(std::log2(texels))) : 0;
  return levels_[static_cast<std::size_t>(std::clamp(level, 0, static_cast<int>(levels_.size()) - 1))];
}

StampSet coverageOf(const StampSet& stamps) {
  StampSet covers;
  for (const Stamp& stamp : stamps) {
    std::vector<float> cover;
    cover.reserve(static_cast<std::size_t>(stamp.width()) * stamp.height());
    for (int y = 0; y < stamp.height(); ++y)
      for (int x = 0; x < stamp.width(); ++x) cover.push_back(stamp.coverage(x, y));
    covers.emplace_back(Stamp::Kind::Coverage, stamp.width(), stamp.height(), std::move(cover));
  }
  return covers;
}

StampSet streakStamps() {
  StampSet set;
  set.emplace_back(Stamp::Kind::Coverage, kStreakWidth, kStreakHeight,
                   filled(kStreakWidth, kStreakHeight, 1, [](double x, double y, const auto& put) {
                     const double width = std::sqrt(std::max(0.0, 1 - y * y));
                     const double across = std::abs(x) / std::max(width, 1e-6);
                     put(0, width * smoothRamp(1, 0, across));
                   }));
  return set;
}

StampSet puffStamps(int variants, double detail) {
  StampSet set;
  for (int variant = 0; variant < variants; ++variant)
    set.emplace_back(Stamp::Kind::Grey, kPuffSize, kPuffSize,
                     filled(kPuffSize, kPuffSize, 2, [&](double x, double y, const auto& put) {
                       double light = 0, cover = 0;
                       puffTexel(x, y, variant, detail, light, cover);
                       put(0, light * cover);
                       put(1, cover);
                     }));
  return set;
}

StampSet pictureStamps(const std::shared_ptr<const Picture>& picture, const Crop& crop,
                       const OutlinePoints& mask) {
  const auto edges = [](double from, double until, int size, int& first, int& count) {
    first = std::clamp(static_cast<int>(std::lround(from * size)), 0, size - 1);
    const int end = std::clamp(size - static_cast<int>(std::lround(until * size)), first + 1, size);
    count = end - first;
  };
  int left = 0, top = 0, width = 0, height = 0;
  edges(crop.left, crop.right, picture->width(), left, width);
  edges(crop.top, crop.bottom, picture->height(), top, height);
  StampSet set;
  set.emplace_back(mask.empty() ? picture : std::make_shared<const Picture>(masked(*picture, mask)), left,
                   top, width, height);
  return set;
}

StampSet flipbookStamps(const std::shared_ptr<const Picture>& picture, const SheetCells& cells) {
  const int width = std::max(1, picture->width() / cells.columns),
            height = std::max(1, picture->height() / cells.rows);
  const int each = std::max(1, cells.columns * cells.rows / cells.variants);
  const int used = cells.used > 0 ? std::min(cells.used, each) : each;
  // Something is left of each.
  const int padding = std::clamp(cells.padding, 0, (std::min(width, height) - 1) / 2);
  StampSet set;
  for (int cell = 0; cell < cells.columns * cells.rows; ++cell) {
    if (cell % each >= used || cell / each >= cells.variants) continue;
    const CellPlace place = cellPlace(cell, cells.columns, cells.rows, cells.order);
    const int left = place.column * width, top = place.row * height;
    // A picture with fewer pixels than columns or rows ends before its last cells.
    if (left + width > picture->width() || top + height > picture->height()) continue;
    set.emplace_back(picture, left + padding, top + padding, width - 2 * padding, height - 2 * padding);
  }
  return set;
}

}  // namespace comet
