#include "bake/fill_outward.h"

#include "base/stoppable.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace comet {
namespace {

// Half as large; each pixel the mean of those below it by their weights, and weighing as much as they do, at
// most 1.
Picture pulled(const Picture& fine, const Progress& progress) {
  Picture coarse = Picture::unset((fine.width() + 1) / 2, (fine.height() + 1) / 2);
  stoppableFor(static_cast<std::size_t>(coarse.height()), progress, [&](std::size_t row) {
    const int y = static_cast<int>(row);
    for (int x = 0; x < coarse.width(); ++x) {
      Vec3 sum(0.0F);
      float weight = 0;
      for (int j = 2 * y; j < std::min(2 * y + 2, fine.height()); ++j)
        for (int i = 2 * x; i < std::min(2 * x + 2, fine.width()); ++i) {
          const Vec4& pixel = fine.at(i, j);
          sum += Vec3(pixel) * pixel.w;
          weight += pixel.w;
        }
      coarse.at(x, y) = weight > 0 ? Vec4(sum / weight, std::min(1.0F, weight)) : Vec4(0.0F);
    }
  });
  return coarse;
}

// Fills what `fine` lacks from `coarse`, with straight lines between its pixels.
void push(const Picture& coarse, Picture& fine, const Progress& progress) {
  stoppableFor(static_cast<std::size_t>(fine.height()), progress, [&](std::size_t row) {
    Vec4* out = fine.row(static_cast<int>(row));
    for (int x = 0; x < fine.width(); ++x) {
      const float own = out[x].w;
      if (own >= 1) continue;
      const Vec3 around(sampled(coarse, 0.5 * (x + 0.5), 0.5 * (static_cast<double>(row) + 0.5)));
      out[x] = Vec4(Vec3(out[x]) * own + around * (1 - own), 1);
    }
  });
}

}  // namespace

Picture filledOutward(Picture values, const Progress& progress) {
  std::vector<Picture> levels;
  levels.push_back(std::move(values));
  while (levels.back().width() > 1 || levels.back().height() > 1)
    levels.push_back(pulled(levels.back(), progress));
  if (levels.back().at(0, 0).w <= 0) return std::move(levels.front());
  levels.back().at(0, 0).w = 1;
  for (std::size_t level = levels.size() - 1; level-- > 0;) push(levels[level + 1], levels[level], progress);
  return std::move(levels.front());
}

Picture filledBeyondSeen(Picture values, float min, const Progress& progress) {
  Picture filled = Picture::unset(values.width(), values.height());
  changeRows(values, filled, progress,
             [min](const Vec4& value) { return value.w >= min ? Vec4(Vec3(value), 1) : Vec4(0.0F); });
  filled = filledOutward(std::move(filled), progress);
  stoppableFor(static_cast<std::size_t>(values.height()), progress, [&](std::size_t row) {
    const Vec4* from = filled.row(static_cast<int>(row));
    Vec4* to = values.row(static_cast<int>(row));
    for (int x = 0; x < values.width(); ++x) to[x] = Vec4(Vec3(from[x]), to[x].w);
  });
  return values;
}

Picture withStraightAlpha(Picture picture, const Progress& progress) {
  // Thinner cover than this says nothing certain of its colour.
  static constexpr float kMinAlpha = 1.0F / 65536;
  changeRows(picture, picture, progress,
             [](const Vec4& pixel) { return Vec4(Vec3(pixel) / std::max(pixel.w, kMinAlpha), pixel.w); });
  return filledBeyondSeen(std::move(picture), kMinAlpha, progress);
}

void bleedEdge(Picture& sheet, int x, int y, int width, int height, int padding) {
  for (int j = y - padding; j < y + height + padding; ++j)
    for (int i = x - padding; i < x + width + padding; ++i)
      sheet.at(i, j) = sheet.at(std::clamp(i, x, x + width - 1), std::clamp(j, y, y + height - 1));
}

}  // namespace comet
