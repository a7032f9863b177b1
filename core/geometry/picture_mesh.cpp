#include "geometry/picture_mesh.h"

#include "base/color.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/geometric.hpp>
#include <map>
#include <tuple>
#include <vector>

namespace comet {
namespace {

// One number of a picture at the crossings of a grid that is laid over it.
struct Samples {
  int across = 0, down = 0;  // cells
  double cell = 1;           // a cell's length, units
  std::vector<double> values;

  double at(int x, int y) const {
    return values[static_cast<std::size_t>(y) * static_cast<std::size_t>(across + 1) +
                  static_cast<std::size_t>(x)];
  }
  // From the middle: to the right, and up in the picture.
  Vec2d place(double x, double y) const { return {(x - 0.5 * across) * cell, (0.5 * down - y) * cell}; }
};

// The mean of a number over the pixels between two places along each axis, and at least one of them.
template <typename Number>
double meanOver(const Picture& picture, const Vec2d& from, const Vec2d& to, const Number& number) {
  const auto pixel = [](double place, int count) {
    return std::clamp(static_cast<int>(std::floor(place)), 0, count - 1);
  };
  const int left = pixel(from.x, picture.width()), right = pixel(to.x, picture.width());
  const int top = pixel(from.y, picture.height()), bottom = pixel(to.y, picture.height());
  double sum = 0;
  for (int y = top; y <= bottom; ++y)
    for (int x = left; x <= right; ++x) sum += number(picture.at(x, y));
  return sum / ((right - left + 1.0) * (bottom - top + 1.0));
}

template <typename Number>
Samples sampled(const Picture& picture, const PictureGrid& grid, const Number& number) {
  Samples samples;
  const double perCell = std::max(picture.width(), picture.height()) / static_cast<double>(grid.cells);
  samples.across = std::max(1, static_cast<int>(std::lround(picture.width() / perCell)));
  samples.down = std::max(1, static_cast<int>(std::lround(picture.height() / perCell)));
  samples.cell = grid.width / samples.across;
  const Vec2d step(static_cast<double>(picture.width()) / samples.across,
                   static_cast<double>(picture.height()) / samples.down);
  for (int y = 0; y <= samples.down; ++y)
    for (int x = 0; x <= samples.across; ++x) {
      const Vec2d at = Vec2d(x, y) * step;
      // Not quite to the next crossing, whose pixel is that one's.
      samples.values.push_back(meanOver(picture, at - 0.499 * step, at + 0.499 * step, number));
    }
  return samples;
}

// Normals of points from the faces around them, and a single part for all.
Mesh finished(Mesh mesh) {
  std::vector<Vec3d> sums(mesh.points.size(), Vec3d(0.0));
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
    for (const std::uint32_t corner : mesh.triangles[t]) sums[corner] += mesh.areaVector(t);
  for (const Vec3d& sum : sums) mesh.normals.emplace_back(unitOr(sum, Vec3d(0, 1, 0)));
  mesh.parts.assign(mesh.triangles.size(), 0);
  mesh.partNames = {{}};
  return mesh;
}

// Builds what is cut out, cell by cell. Each point has a twin behind it.
class CutOut {
 public:
  CutOut(const Samples& samples, double threshold, double thickness)
      : samples_(samples), threshold_(threshold), half_(0.5 * thickness) {}

  Mesh build() {
    // One cell more on each side, where nothing is, so that everything closes.
    for (int y = -1; y <= samples_.down; ++y)
      for (int x = -1; x <= samples_.across; ++x) addCell(x, y);
    return finished(std::move(mesh_));
  }

 private:
  struct Corner {
    std::uint32_t point;
    bool isContour;
  };
  struct Crossing {
    int x, y;
  };

  double valueAt(const Crossing& at) const {
    const bool isOn = at.x >= 0 && at.y >= 0 && at.x <= samples_.across && at.y <= samples_.down;
    return isOn ? samples_.at(at.x, at.y) : 0;
  }
  bool isIn(const Crossing& at) const { return valueAt(at) >= threshold_; }

  // The front one of the points there; `key` tells places apart.
  std::uint32_t pointAt(const std::array<int, 4>& key, const Vec2d& place) {
    const auto [found, isNew] = points_.emplace(key, static_cast<std::uint32_t>(mesh_.points.size()));
    if (isNew)
      for (const double side : {half_, -half_}) mesh_.points.emplace_back(Vec3d(place.x, place.y, side));
    return found->second;
  }

  std::uint32_t contourPoint(Crossing a, Crossing b) {
    if (std::tie(b.x, b.y) < std::tie(a.x, a.y)) std::swap(a, b);
    // Not onto a crossing itself, where faces would have no area.
    const double fraction = std::clamp((threshold_ - valueAt(a)) / (valueAt(b) - valueAt(a)), 0.02, 0.98);
    return pointAt({a.x, a.y, b.x, b.y},
                   samples_.place(a.x + fraction * (b.x - a.x), a.y + fraction * (b.y - a.y)));
  }

  // What of a cell is in is one polygon, convex since its corners lie on the cell's rim.
  void addCell(int x, int y) {
    const std::array<Crossing, 4> around{{{x, y + 1}, {x + 1, y + 1}, {x + 1, y}, {x, y}}};
    std::vector<Corner> corners;
    for (std::size_t i = 0; i < around.size(); ++i) {
      const Crossing &here = around[i], &next = around[(i + 1) % around.size()];
      if (isIn(here))
        corners.push_back({pointAt({here.x, here.y, here.x, here.y}, samples_.place(here.x, here.y)), false});
      if (isIn(here) != isIn(next)) corners.push_back({contourPoint(here, next), true});
    }
    for (std::size_t i = 2; i < corners.size(); ++i) {
      const std::uint32_t a = corners[0].point, b = corners[i - 1].point, c = corners[i].point;
      mesh_.triangles.push_back({a, b, c});
      mesh_.triangles.push_back({a + 1, c + 1, b + 1});
    }
    for (std::size_t i = 0; i < corners.size(); ++i) {
      const Corner &from = corners[i], &to = corners[(i + 1) % corners.size()];
      if (from.isContour && to.isContour) addWall(from.point, to.point);
    }
  }

  void addWall(std::uint32_t from, std::uint32_t to) {
    mesh_.triangles.push_back({to, from, from + 1});
    mesh_.triangles.push_back({to, from + 1, to + 1});
  }

  const Samples& samples_;
  double threshold_, half_;
  std::map<std::array<int, 4>, std::uint32_t> points_;
  Mesh mesh_;
};

}  // namespace

Mesh reliefOf(const Picture& picture, const PictureGrid& grid, double height) {
  const Samples samples =
      sampled(picture, grid, [](const Vec4& pixel) { return luminance(Vec3d(Vec3(pixel))); });
  Mesh mesh;
  for (int y = 0; y <= samples.down; ++y)
    for (int x = 0; x <= samples.across; ++x) {
      const Vec2d place = samples.place(x, y);
      mesh.points.emplace_back(Vec3d(place.x, height * samples.at(x, y), -place.y));
    }
  const auto point = [&samples](int x, int y) {
    return static_cast<std::uint32_t>(y * (samples.across + 1) + x);
  };
  for (int y = 0; y < samples.down; ++y)
    for (int x = 0; x < samples.across; ++x) {
      mesh.triangles.push_back({point(x, y), point(x, y + 1), point(x + 1, y)});
      mesh.triangles.push_back({point(x + 1, y), point(x, y + 1), point(x + 1, y + 1)});
    }
  return finished(std::move(mesh));
}

Mesh cutOutOf(const Picture& picture, const PictureGrid& grid, double threshold, double thickness) {
  const Samples samples =
      sampled(picture, grid, [](const Vec4& pixel) { return static_cast<double>(pixel.w); });
  return CutOut(samples, threshold, thickness).build();
}

}  // namespace comet
