#include "render/tube.h"

#include "base/parallel.h"
#include "geometry/tube_mesh.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

// Cross-sections that lie nearer to each other add nothing to a tube, in its radii: it cannot bend more
// sharply than by its own radius.
constexpr double kApart = 0.5;
constexpr int kFewestSides = 5, kMostSides = 24;
// Pixels by which a side may lie inside of the circle.
constexpr double kInside = 0.2;

// A side of a circle lies so much inside of it: radius × (1 - cos(half of its angle)).
int sidesFor(double radius) {
  if (!(radius > kInside)) return kFewestSides;
  const double half = std::acos(1 - kInside / radius);
  return static_cast<int>(std::clamp(std::ceil(kPi / half), double{kFewestSides}, double{kMostSides}));
}

}  // namespace

Solid tubeSolid(const Lines& lines, const Projector& seenBy) {
  std::vector<TubeMesh> tubes(lines.count());
  parallelFor(tubes.size(), [&](std::size_t i) {
    std::vector<LinePoint> points;
    lines.points(i, points, &seenBy);
    std::vector<TubePoint> line;
    double thickest = 0;  // in pixels
    for (std::size_t p = 0; p < points.size(); ++p) {
      const LinePoint& point = points[p];
      const double radius = 0.5 * point.width;
      const bool isEnd = p == 0 || p + 1 == points.size();
      if (!isEnd && glm::length(point.place - line.back().at) < kApart * radius) continue;
      line.push_back({point.place, radius, Vec3(point.color)});
      thickest = std::max(thickest, radius * seenBy.pixelsPerUnitAt(point.place));
    }
    if (thickest > 0) addTube(line, sidesFor(thickest), tubes[i]);
  });
  TubeMesh all;
  for (const TubeMesh& tube : tubes) all.append(tube);
  Solid solid;
  solid.isVisible = true;
  solid.colors = std::move(all.colors);
  solid.mesh = std::make_shared<const Mesh>(std::move(all.mesh));
  return solid;
}

}  // namespace comet
