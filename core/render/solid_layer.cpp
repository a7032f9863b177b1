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
};

class Builder {
 public:
  // The lights from far away: their light is as good as linear over a triangle.
  Builder(const SceneLights& lights, const Projector& projector, int height)
      : lights_(lights), projector_(projector), height_(height) {}

  // Those that are added have to outlive what is built.

  void add(const Solid& solid) {
    const Mesh& mesh = *solid.mesh;
    for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
      const Vec3d normal = solid.turn * mesh.areaVector(t);
      std::array<Placed, 3> corners;
      Vec3d centre(0.0);
      for (std::size_t i = 0; i < 3; ++i) {
        corners[i].at = solid.place + solid.turn * (Vec3d(mesh.points[mesh.triangles[t][i]]) * solid.scale);
        corners[i].depth = projector_.project(corners[i].at).depth;
        centre += corners[i].at / 3.0;
      }
      Vec3d from, direction;
      const Projector::Point seen = projector_.project(centre);
      projector_.ray(seen.x, seen.y, from, direction);
      // From behind the camera's plane the ray would lead the other way.
      if (seen.depth < 0 && projector_.isPerspective()) direction = centre - from;
      const bool isFront = glm::dot(normal, direction) < 0;
      if (solid.faces == Solid::Faces::Front && !isFront) continue;
      if (solid.faces == Solid::Faces::Back && isFront) continue;
      for (std::size_t i = 0; i < 3; ++i) {
        const Vec3d own = solid.turn * Vec3d(mesh.normals[mesh.triangles[t][i]]);
        corners[i].normal = isFront ? own : -own;
        if (solid.isVisible)
          corners[i].light = Vec3(lights_.on(corners[i].at, corners[i].normal) * solid.color);
      }
      addClipped(corners, solid);
    }
  }

  const std::vector<DrawnTriangle>& triangles() const { return triangles_; }

 private:
  // What of it lies before the camera, after Sutherland and Hodgman, "Reentrant Polygon Clipping", 1974.
  void addClipped(const std::array<Placed, 3>& corners, const Solid& solid) {
    if (!projector_.isPerspective()) return addPolygon({corners.begin(), corners.end()}, solid);
    std::vector<Placed> kept;
    for (std::size_t i = 0; i < 3; ++i) {
      const Placed &here = corners[i], &next = corners[(i + 1) % 3];
      const double inFront = here.depth - kNear, nextInFront = next.depth - kNear;
      if (inFront > 0) kept.push_back(here);
      if ((inFront > 0) == (nextInFront > 0)) continue;
      const double fraction = inFront / (inFront - nextInFront);
      kept.push_back({here.at + (next.at - here.at) * fraction, kNear,
                      here.light + (next.light - here.light) * static_cast<float>(fraction),
                      here.normal + (next.normal - here.normal) * fraction});
    }
    addPolygon(kept, solid);
  }

  void addPolygon(const std::vector<Placed>& polygon, const Solid& solid) {
    std::vector<DrawnCorner> corners;
    for (const Placed& placed : polygon) {
      const Projector::Point point = projector_.project(placed.at);
      const double nearness = projector_.isPerspective() ? 1 / placed.depth : -placed.depth;
      corners.push_back({point.x, point.y, nearness, placed.light, placed.at, placed.normal});
    }
    for (std::size_t i = 2; i < corners.size(); ++i)
      addTriangle({corners[0], corners[i - 1], corners[i]}, solid);
  }

  void addTriangle(std::array<DrawnCorner, 3> corners, const Solid& solid) {
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

// Places that lie in the triangle; on an edge that two share, either may draw.
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
        draw(PixelOf{x, y, {midA, midB, midC}}, i, a.nearness * ofA + b.nearness * ofB + c.nearness * ofC,
             a.light * static_cast<float>(ofA) + b.light * static_cast<float>(ofB) +
                 c.light * static_cast<float>(ofC));
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
               [&](const PixelOf& pixel, std::size_t sample, double nearness, const Vec3& color) {
                 const auto depth = static_cast<float>(perspective ? 1 / nearness : -nearness);
                 const std::size_t at = indexOf(pixel.x, pixel.y) + sample;
                 if (!(depth < depths_[at])) return;
                 depths_[at] = depth;
                 colors_[at] = Vec4(0.0F);
                 if (!triangle.solid->isVisible) return;
                 colors_[at] = Vec4(color + nearLight(triangle, pixel, perspective), 1);
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
    double sum = 0;
    for (std::size_t i = 0; i < 3; ++i) {
      const DrawnCorner& corner = triangle.corners[i];
      // What is linear in the scene is so in the picture only times the nearness.
      const double weight = std::max(0.0, pixel.fractions[i]) * (perspective ? corner.nearness : 1);
      at += weight * corner.at;
      normal += weight * corner.normal;
      sum += weight;
    }
    lit_ = {&triangle, pixel.x, pixel.y,
            Vec3(lights_.on(at / sum, unitOr(normal, Vec3d(0, 1, 0))) * triangle.solid->color)};
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

}  // namespace

SolidLayer::SolidLayer(const std::vector<Solid>& solids, const SceneLights& lights,
                       const Projector& projector, int width, int height)
    : width_(width), perspective_(projector.isPerspective()), perPixel_(1 / projector.scale()) {
  if (solids.empty() || width < 1 || height < 1) return;
  const SceneLights far = lights.fromFarAway(), near = lights.fromNear();
  Builder builder(far, projector, height);
  for (const Solid& solid : solids) builder.add(solid);
  depths_.resize(static_cast<std::size_t>(width) * static_cast<std::size_t>(height));
  covers_.resize(depths_.size());
  colors_ = Picture::unset(width, height);
  parallelFor(static_cast<std::size_t>((height + kBandHeight - 1) / kBandHeight), [&](std::size_t index) {
    const int top = static_cast<int>(index) * kBandHeight, bottom = std::min(height, top + kBandHeight);
    Band band(near, width, top, bottom);
    for (const DrawnTriangle& triangle : builder.triangles()) band.draw(triangle, perspective_);
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
