#include "render/solid_layer.h"

#include "base/parallel.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/geometric.hpp>
#include <limits>

namespace comet {
namespace {

constexpr int kBandHeight = 8;

// As it lies in the picture. What is linear there: one over the depth in perspective, else the depth.
struct DrawnCorner {
  double x = 0, y = 0, nearness = 0;
  Vec3 light{0.0F};
  Vec3d at{0.0}, normal{0.0};  // in the scene; the normal is on the side that is seen
  Vec3 color{0.0F};
};

struct DrawnTriangle {
  std::array<DrawnCorner, 3> corners;
  double area = 0;  // twice the triangle's, positive
  int top = 0, bottom = 0;
  const Solid* solid = nullptr;
};

// A corner in the scene.
struct Placed {
  Vec3d at{0.0};
  double depth = 0;
  Vec3 light{0.0F};  // from far away
  Vec3d normal{0.0};
  Vec3 color{0.0F};
};

Placed between(const Placed& from, const Placed& to, double fraction) {
  const auto part = static_cast<float>(fraction);
  return {from.at + (to.at - from.at) * fraction, from.depth + (to.depth - from.depth) * fraction,
          from.light + (to.light - from.light) * part, from.normal + (to.normal - from.normal) * fraction,
          from.color + (to.color - from.color) * part};
}

// The part of a polygon where `inside(corner)`, which is linear, is above 0, after Sutherland and Hodgman,
// "Reentrant Polygon Clipping", 1974.
template <typename Inside>
std::vector<Placed> clipped(const std::vector<Placed>& polygon, const Inside& inside) {
  std::vector<Placed> kept;
  for (std::size_t i = 0; i < polygon.size(); ++i) {
    const Placed &here = polygon[i], &next = polygon[(i + 1) % polygon.size()];
    const double at = inside(here), atNext = inside(next);
    if (at > 0) kept.push_back(here);
    if ((at > 0) != (atNext > 0)) kept.push_back(between(here, next, at / (at - atNext)));
  }
  return kept;
}

// What is seen of some of a solid's triangles.
class Builder {
 public:
  // The lights from far away: their light is as good as linear over a triangle.
  Builder(const SceneLights& lights, const Projector& projector, int height)
      : lights_(lights), projector_(projector), height_(height) {}

  // The solid has to outlive what is built.
  void add(const Solid& solid, std::size_t first, std::size_t count) {
    for (std::size_t t = first; t < first + count; ++t) addTriangle(solid, t);
  }

  std::vector<DrawnTriangle> take() { return std::move(triangles_); }

 private:
  void addTriangle(const Solid& solid, std::size_t index) {
    const Mesh& mesh = *solid.mesh;
    const Mesh::Triangle& triangle = mesh.triangles[index];
    std::array<Placed, 3> corners;
    Vec3d centre(0.0);
    for (std::size_t i = 0; i < 3; ++i) {
      corners[i].at = solid.place + solid.turn * (Vec3d(mesh.points[triangle[i]]) * solid.scale);
      corners[i].depth = projector_.project(corners[i].at).depth;
      centre += corners[i].at / 3.0;
    }
    const bool isFront = facesViewer(solid.turn * mesh.areaVector(index), centre);
    // What is solid is cut like wood: its far side is seen where the near one is cut off, as if it lay in the
    // plane.
    const bool isCut = projector_.clip() && solid.faces == Solid::Faces::Front && !isFront;
    if (solid.faces == Solid::Faces::Front && !isFront && !isCut) return;
    if (solid.faces == Solid::Faces::Back && isFront) return;
    for (std::size_t i = 0; i < 3; ++i) {
      const Vec3d own = solid.turn * Vec3d(mesh.normals[triangle[i]]);
      corners[i].normal = isCut ? projector_.clip()->direction : isFront ? own : -own;
      corners[i].color = solid.colors.empty() ? Vec3(solid.color) : solid.colors[triangle[i]];
      if (solid.isVisible)
        corners[i].light = Vec3(lights_.on(corners[i].at, corners[i].normal)) * corners[i].color;
    }
    addClipped({corners.begin(), corners.end()}, solid);
  }

  bool facesViewer(const Vec3d& normal, const Vec3d& centre) const {
    Vec3d from, direction;
    const Projector::Point seen = projector_.project(centre);
    projector_.ray(seen.x, seen.y, from, direction);
    // From behind the camera's plane the ray would lead the other way.
    if (seen.depth < 0 && projector_.isPerspective()) direction = centre - from;
    return glm::dot(normal, direction) < 0;
  }

  // What of it lies before the camera and is not cut away.
  void addClipped(std::vector<Placed> polygon, const Solid& solid) {
    if (projector_.isPerspective())
      polygon = clipped(polygon, [](const Placed& corner) { return corner.depth - kNear; });
    if (const auto& plane = projector_.clip())
      polygon = clipped(polygon, [&](const Placed& corner) { return -plane->beyond(corner.at); });
    std::vector<DrawnCorner> corners;
    for (const Placed& placed : polygon) {
      const Projector::Point point = projector_.project(placed.at);
      const double nearness = projector_.isPerspective() ? 1 / placed.depth : -placed.depth;
      corners.push_back({point.x, point.y, nearness, placed.light, placed.at, placed.normal, placed.color});
    }
    for (std::size_t i = 2; i < corners.size(); ++i)
      addDrawn({corners[0], corners[i - 1], corners[i]}, solid);
  }

  void addDrawn(std::array<DrawnCorner, 3> corners, const Solid& solid) {
    const auto& [a, b, c] = corners;
    double area = (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
    if (area < 0) {
      std::swap(corners[1], corners[2]);
      area = -area;
    }
    if (!(area > 1e-9)) return;
    const auto [min, max] = std::minmax({a.y, b.y, c.y});
    if (max <= 0 || min >= height_) return;
    const int top = static_cast<int>(std::floor(std::max(0.0, min)));
    const int bottom = static_cast<int>(std::ceil(std::min(static_cast<double>(height_), max)));
    triangles_.push_back({corners, area, top, bottom, &solid});
  }

  // Twice what the projector can show.
  static constexpr double kNear = 2 * Projector::kNearest;

  const SceneLights& lights_;
  const Projector& projector_;
  int height_;
  std::vector<DrawnTriangle> triangles_;
};

// Where a pixel is looked at, from its middle: there, and at places of which no two share a row or column, so
// that edges of all directions have as many steps.
struct SamplePlace {
  double x, y;
};
constexpr std::size_t kEdgeSamples = 8, kSamples = 1 + kEdgeSamples;
constexpr std::array<SamplePlace, kSamples> kPlaces = [] {
  constexpr std::array<int, kEdgeSamples> kColumns{2, 5, 7, 0, 3, 6, 1, 4};
  std::array<SamplePlace, kSamples> places{};
  for (std::size_t i = 0; i < kEdgeSamples; ++i)
    places[1 + i] = {(kColumns[i] + 0.5) / kEdgeSamples - 0.5,
                     (static_cast<double>(i) + 0.5) / kEdgeSamples - 0.5};
  return places;
}();

// A number that is linear over a triangle: at the middle of a pixel, and how much more at its other places.
class Slope {
 public:
  Slope(double atOrigin, double perX, double perY) : atOrigin_(atOrigin), perX_(perX), perY_(perY) {
    for (std::size_t i = 0; i < kSamples; ++i) {
      more_[i] = perX * kPlaces[i].x + perY * kPlaces[i].y;
      max_ = std::max(max_, more_[i]);
    }
  }
  double at(double x, double y) const { return atOrigin_ + perX_ * x + perY_ * y; }
  double more(std::size_t sample) const { return more_[sample]; }
  double max() const { return max_; }

 private:
  double atOrigin_, perX_, perY_;
  std::array<double, kSamples> more_{};
  double max_ = 0;
};

// How much of the corner opposite an edge a place has, 0 on the edge.
Slope fractionSlope(const DrawnTriangle& triangle, const DrawnCorner& from, const DrawnCorner& to) {
  const double perX = -(to.y - from.y) / triangle.area, perY = (to.x - from.x) / triangle.area;
  return {-from.x * perX - from.y * perY, perX, perY};
}

// A pixel, and how much of each corner of a triangle its middle has; less than 0 where it lies outside.
struct PixelOf {
  int x, y;
  std::array<double, 3> fractions;
};

// Calls draw(pixel, place, fractions) for places that lie in the triangle, with how much of each corner the
// place has; on an edge that two share, either may draw.
template <typename Draw>
void forSamples(const DrawnTriangle& triangle, int fromRow, int toRow, int width, const Draw& draw) {
  const auto& [a, b, c] = triangle.corners;
  const auto [min, max] = std::minmax({a.x, b.x, c.x});
  const int left = std::clamp(static_cast<int>(std::floor(std::clamp(min, -1.0, width + 1.0))), 0, width);
  const int right = std::clamp(static_cast<int>(std::ceil(std::clamp(max, -1.0, width + 1.0))), 0, width);
  const Slope slopeA = fractionSlope(triangle, b, c), slopeB = fractionSlope(triangle, c, a),
              slopeC = fractionSlope(triangle, a, b);
  constexpr double kSlack = -1e-7;
  for (int y = fromRow; y < toRow; ++y)
    for (int x = left; x < right; ++x) {
      const double px = x + 0.5, py = y + 0.5;
      const double midA = slopeA.at(px, py), midB = slopeB.at(px, py), midC = slopeC.at(px, py);
      if (midA + slopeA.max() < kSlack || midB + slopeB.max() < kSlack || midC + slopeC.max() < kSlack)
        continue;
      for (std::size_t i = 0; i < kSamples; ++i) {
        const double ofA = midA + slopeA.more(i), ofB = midB + slopeB.more(i), ofC = midC + slopeC.more(i);
        if (ofA < kSlack || ofB < kSlack || ofC < kSlack) continue;
        draw(PixelOf{x, y, {midA, midB, midC}}, i, {ofA, ofB, ofC});
      }
    }
}

// The nearest surface at each place of the pixels of some rows.
class Band {
 public:
  // `lights`: those that are near.
  Band(const SceneLights& lights, int width, int top, int bottom)
      : lights_(lights),
        width_(width),
        top_(top),
        bottom_(bottom),
        depths_(static_cast<std::size_t>(width) * static_cast<std::size_t>(bottom - top) * kSamples,
                kNothing),
        colors_(depths_.size()) {}

  void draw(const DrawnTriangle& triangle, bool perspective) {
    forSamples(triangle, std::max(top_, triangle.top), std::min(bottom_, triangle.bottom), width_,
               [&](const PixelOf& pixel, std::size_t sample, const Vec3d& of) {
                 const auto& [a, b, c] = triangle.corners;
                 const double nearness = a.nearness * of.x + b.nearness * of.y + c.nearness * of.z;
                 const auto depth = static_cast<float>(perspective ? 1 / nearness : -nearness);
                 const std::size_t at = indexOf(pixel.x, pixel.y) + sample;
                 if (!(depth < depths_[at])) return;
                 depths_[at] = depth;
                 colors_[at] = Vec4(0.0F);
                 if (!triangle.solid->isVisible) return;
                 const Vec3 light = a.light * static_cast<float>(of.x) + b.light * static_cast<float>(of.y) +
                                    c.light * static_cast<float>(of.z);
                 colors_[at] = Vec4(light + nearLight(triangle, pixel, perspective), 1);
               });
  }

  struct Pixel {
    float depth = kNothing, cover = 0;
    Vec4 color{0.0F};
  };
  Pixel pixel(int x, int y) const {
    const std::size_t middle = indexOf(x, y);
    Pixel pixel;
    int covered = 0;
    for (std::size_t at = middle + 1; at < middle + kSamples; ++at) {
      if (depths_[at] == kNothing) continue;
      ++covered;
      pixel.depth = std::min(pixel.depth, depths_[at]);
      pixel.color += colors_[at];
    }
    if (covered == 0) return pixel;
    if (depths_[middle] != kNothing) pixel.depth = depths_[middle];
    pixel.cover = static_cast<float>(covered) / static_cast<float>(kEdgeSamples);
    pixel.color /= static_cast<float>(covered);
    return pixel;
  }

 private:
  static constexpr float kNothing = std::numeric_limits<float>::infinity();

  // What near lights add in a pixel of a triangle: the same at all of its places.
  Vec3 nearLight(const DrawnTriangle& triangle, const PixelOf& pixel, bool perspective) {
    if (lights_.lights.empty()) return Vec3(0.0F);
    if (lit_.triangle == &triangle && lit_.x == pixel.x && lit_.y == pixel.y) return lit_.light;
    Vec3d at(0.0), normal(0.0);
    Vec3 color(0.0F);
    double sum = 0;
    for (std::size_t i = 0; i < 3; ++i) {
      const DrawnCorner& corner = triangle.corners[i];
      // What is linear in the scene is so in the picture only times the nearness.
      const double weight = std::max(0.0, pixel.fractions[i]) * (perspective ? corner.nearness : 1);
      at += weight * corner.at;
      normal += weight * corner.normal;
      color += static_cast<float>(weight) * corner.color;
      sum += weight;
    }
    lit_ = {&triangle, pixel.x, pixel.y,
            Vec3(lights_.on(at / sum, unitOr(normal, Vec3d(0, 1, 0)))) * (color / static_cast<float>(sum))};
    return lit_.light;
  }

  std::size_t indexOf(int x, int y) const {
    return (static_cast<std::size_t>(y - top_) * static_cast<std::size_t>(width_) +
            static_cast<std::size_t>(x)) *
           kSamples;
  }

  const SceneLights& lights_;
  struct {
    const DrawnTriangle* triangle = nullptr;
    int x = 0, y = 0;
    Vec3 light{0.0F};
  } lit_;  // the last one
  int width_, top_, bottom_;
  std::vector<float> depths_;
  std::vector<Vec4> colors_;
};

// What is drawn of all solids, in runs, in the solids' order.
std::vector<std::vector<DrawnTriangle>> drawnTriangles(const std::vector<Solid>& solids,
                                                       const SceneLights& lights, const Projector& projector,
                                                       int height) {
  constexpr std::size_t kTrianglesATask = 4096;
  struct Run {
    const Solid* solid;
    std::size_t first, count;
  };
  std::vector<Run> runs;
  for (const Solid& solid : solids) {
    const std::size_t count = solid.mesh->triangles.size();
    for (std::size_t first = 0; first < count; first += kTrianglesATask)
      runs.push_back({&solid, first, std::min(kTrianglesATask, count - first)});
  }
  std::vector<std::vector<DrawnTriangle>> drawn(runs.size());
  parallelFor(runs.size(), [&](std::size_t r) {
    Builder builder(lights, projector, height);
    builder.add(*runs[r].solid, runs[r].first, runs[r].count);
    drawn[r] = builder.take();
  });
  return drawn;
}

int bandsOf(int height) { return (height + kBandHeight - 1) / kBandHeight; }

// The triangles that reach into each band, in their order.
std::vector<std::vector<const DrawnTriangle*>> byBand(const std::vector<std::vector<DrawnTriangle>>& drawn,
                                                      int bands) {
  std::vector<std::vector<const DrawnTriangle*>> inBands(static_cast<std::size_t>(bands));
  for (const std::vector<DrawnTriangle>& run : drawn)
    for (const DrawnTriangle& triangle : run)
      for (int band = triangle.top / kBandHeight; band * kBandHeight < triangle.bottom; ++band)
        inBands[static_cast<std::size_t>(band)].push_back(&triangle);
  return inBands;
}

}  // namespace

SolidLayer::SolidLayer(const std::vector<Solid>& solids, const SceneLights& lights,
                       const Projector& projector, int width, int height)
    : width_(width), perspective_(projector.isPerspective()), perPixel_(1 / projector.scale()) {
  if (solids.empty() || width < 1 || height < 1) return;
  const SceneLights far = lights.fromFarAway(), near = lights.fromNear();
  const std::vector<std::vector<DrawnTriangle>> drawn = drawnTriangles(solids, far, projector, height);
  depths_.resize(static_cast<std::size_t>(width) * static_cast<std::size_t>(height));
  covers_.resize(depths_.size());
  colors_ = Picture::unset(width, height);
  const std::vector<std::vector<const DrawnTriangle*>> inBands = byBand(drawn, bandsOf(height));
  parallelFor(inBands.size(), [&](std::size_t index) {
    const int top = static_cast<int>(index) * kBandHeight, bottom = std::min(height, top + kBandHeight);
    Band band(near, width, top, bottom);
    for (const DrawnTriangle* triangle : inBands[index]) band.draw(*triangle, perspective_);
    for (int y = top; y < bottom; ++y)
      for (int x = 0; x < width; ++x) {
        const Band::Pixel pixel = band.pixel(x, y);
        const std::size_t at =
            static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x);
        depths_[at] = pixel.depth;
        covers_[at] = pixel.cover;
        colors_.at(x, y) = pixel.color;
      }
  });
}

}  // namespace comet
