#include "bake/fill_outward.h"

#include "base/parallel.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace comet {
namespace {

// Half as large; each pixel the mean of those below it by their weights, and weighing as much as they do, at
// most 1.
Picture pulled(const Picture& fine) {
  Picture coarse((fine.width() + 1) / 2, (fine.height() + 1) / 2);
  parallelFor(static_cast<std::size_t>(coarse.height()), [&](std::size_t row) {
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
void push(const Picture& coarse, Picture& fine) {
  parallelFor(static_cast<std::size_t>(fine.height()), [&](std::size_t row) {
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

Picture filledOutward(const Picture& values) {
  std::vector<Picture> levels{values};
  while (levels.back().width() > 1 || levels.back().height() > 1) levels.push_back(pulled(levels.back()));
  if (levels.back().at(0, 0).w <= 0) return values;
  levels.back().at(0, 0).w = 1;
  for (std::size_t level = levels.size() - 1; level-- > 0;) push(levels[level + 1], levels[level]);
  return std::move(levels.front());
}

Picture filledBeyondSeen(const Picture& values, float least) {
  Picture filled = filledOutward(changed(
      values, [least](const Vec4& value) { return value.w >= least ? Vec4(Vec3(value), 1) : Vec4(0.0F); }));
  parallelFor(static_cast<std::size_t>(values.height()), [&](std::size_t row) {
    const int y = static_cast<int>(row);
    for (int x = 0; x < values.width(); ++x) filled.at(x, y).w = values.at(x, y).w;
  });
  return filled;
}

Picture withStraightAlpha(const Picture& premultiplied) {
  // Thinner cover than this says nothing certain of its colour.
  static constexpr float kLeastAlpha = 1.0F / 65536;
  return filledBeyondSeen(
      changed(premultiplied,
              [](const Vec4& pixel) { return Vec4(Vec3(pixel) / std::max(pixel.w, kLeastAlpha), pixel.w); }),
      kLeastAlpha);
}

void bleedEdge(Picture& sheet, int x, int y, int width, int height, int padding) {
  for (int j = y - padding; j < y + height + padding; ++j)
    for (int i = x - padding; i < x + width + padding; ++i)
      sheet.at(i, j) = sheet.at(std::clamp(i, x, x + width - 1), std::clamp(j, y, y + height - 1));
}

}  // namespace comet
