#include "bake/relight.h"

#include "bake/fill_outward.h"
#include "bake/seen.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <vector>

namespace comet {
namespace {

// Cover that lets nothing through is as dense as this.
constexpr float kMaxCover = 0.98F;

double densityOf(const Vec4& pixel) { return -std::log(1 - std::min(coverOf(pixel), kMaxCover)); }

// Light that still comes through at each pixel, from one end of every row or column.
std::vector<float> through(const std::vector<double>& density, int width, int height, bool alongRows,
                           bool fromEnd, double depth) {
  std::vector<float> light(density.size());
  const int lines = alongRows ? height : width, length = alongRows ? width : height;
  for (int line = 0; line < lines; ++line) {
    double passed = 0;
    for (int i = 0; i < length; ++i) {
      const int along = fromEnd ? length - 1 - i : i;
      const auto at = static_cast<std::size_t>(alongRows ? line * width + along : along * width + line);
      // Half of a pixel lies before its middle.
      light[at] = static_cast<float>(std::exp(-(passed + 0.5 * density[at]) / depth));
      passed += density[at];
    }
  }
  return light;
}

}  // namespace

Picture normalsOf(const Picture& middles, const Picture& curvatures, int factor) {
  Picture normals(middles.width(), middles.height());
  const Vec2d centre(0.5 * middles.width() * factor, 0.5 * middles.height() * factor);
  for (int y = 0; y < normals.height(); ++y)
    for (int x = 0; x < normals.width(); ++x) {
      const Vec4 &middle = middles.at(x, y), &curvature = curvatures.at(x, y);
      if (middle.z < kMinWeight) continue;
      const Vec2d place = Vec2d(x + 0.5, y + 0.5) * static_cast<double>(factor) - centre;
      Vec2d lean =
          (place * static_cast<double>(curvature.x) - Vec2d(Vec2(middle))) / static_cast<double>(middle.z);
      const double length = std::hypot(lean.x, lean.y);
      if (length > 1) lean /= length;
      const double ahead = std::sqrt(std::max(0.0, 1 - glm::dot(lean, lean)));
      normals.at(x, y) = Vec4(static_cast<float>(lean.x), static_cast<float>(-lean.y),
                              static_cast<float>(ahead), std::min(1.0F, middle.z));
    }
  return filledBeyondSeen(normals);
}

SixLights sixLights(const Picture& cell, const Picture& normals) {
  const int width = cell.width(), height = cell.height();
  std::vector<double> density;
  double seen = 0;
  for (const Vec4& pixel : cell.pixels()) {
    density.push_back(densityOf(pixel));
    seen += std::min(1.0, density.back());
  }
  const double depth = std::max(1.0, std::sqrt(seen));
  const auto right = through(density, width, height, true, true, depth);
  const auto left = through(density, width, height, true, false, depth);
  const auto top = through(density, width, height, false, false, depth);
  const auto bottom = through(density, width, height, false, true, depth);
  SixLights lights{Picture(width, height), Picture(width, height)};
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x) {
      const auto at = static_cast<std::size_t>(y * width + x);
      const Vec4& normal = normals.at(x, y);
      const auto facing = [](float cosine) { return 0.5F + 0.5F * cosine; };
      const auto back = static_cast<float>(std::exp(-density[at]));
      lights.rightTopBack.at(x, y) =
          Vec4(right[at] * facing(normal.x), top[at] * facing(normal.y), back, normal.w);
      lights.leftBottomFront.at(x, y) =
          Vec4(left[at] * facing(-normal.x), bottom[at] * facing(-normal.y), facing(normal.z), normal.w);
    }
  return lights;
}

}  // namespace comet
