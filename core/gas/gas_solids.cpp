#include "gas/gas_solids.h"

#include "base/parallel.h"

#include <algorithm>

namespace comet {
namespace {

// Faces that are open by less let nothing through: their voxels' equations would be badly conditioned.
constexpr double kMinOpen = 0.01;

void closeWalls(const GasGrid& grid, GasSolids& solids) {
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const GridLayout faces = grid.faces(axis);
    const std::size_t one = (axis + 1) % 3, other = (axis + 2) % 3;
    for (std::size_t side = 0; side < 2; ++side) {
      if (grid.open[axis][side]) continue;
      std::array<std::size_t, 3> at{};
      at[axis] = side == 0 ? 0 : grid.counts[axis];
      for (at[one] = 0; at[one] < faces.counts[one]; ++at[one])
        for (at[other] = 0; at[other] < faces.counts[other]; ++at[other])
          solids.open[axis][faces.index(at[0], at[1], at[2])] = 0;
    }
  }
}

// The area of a polygon whose corners are given in order (the shoelace formula).
double areaOf(const std::array<Vec2d, 8>& points, std::size_t count) {
  double twice = 0;
  for (std::size_t i = 0; i < count; ++i) {
    const Vec2d &a = points[i], &b = points[(i + 1) % count];
    twice += a.x * b.y - b.x * a.y;
  }
  return 0.5 * twice;
}

}  // namespace

double positiveFraction(const std::array<double, 4>& corners) {
  // Most squares are far from any surface.
  const auto [min, max] = std::minmax({corners[0], corners[1], corners[2], corners[3]});
  if (min > 0) return 1;
  if (max <= 0) return 0;
  static constexpr std::array<std::array<double, 2>, 4> kSquare{{{0, 0}, {1, 0}, {1, 1}, {0, 1}}};
  std::array<Vec2d, 8> points;
  std::size_t count = 0;
  for (std::size_t i = 0; i < 4; ++i) {
    const std::size_t next = (i + 1) % 4;
    const Vec2d here(kSquare[i][0], kSquare[i][1]), there(kSquare[next][0], kSquare[next][1]);
    if (corners[i] > 0) points[count++] = here;
    if ((corners[i] > 0) != (corners[next] > 0))
      points[count++] = here + (there - here) * (corners[i] / (corners[i] - corners[next]));
  }
  return count < 3 ? 0.0 : std::clamp(areaOf(points, count), 0.0, 1.0);
}

GasSolids wallsOnly(const GasGrid& grid) {
  GasSolids solids;
  for (std::size_t axis = 0; axis < 3; ++axis) {
    solids.open[axis].assign(grid.faces(axis).size(), 1.0F);
    solids.velocity[axis].assign(grid.faces(axis).size(), 0.0F);
  }
  closeWalls(grid, solids);
  return solids;
}

GasSolids solidsOf(const GasGrid& grid, const std::function<double(const Vec3d&)>& distance,
                   const std::function<Vec3d(const Vec3d&)>& velocity) {
  GasSolids solids = wallsOnly(grid);
  const GridLayout nodes{{grid.counts[0] + 1, grid.counts[1] + 1, grid.counts[2] + 1}};
  std::vector<double> distances(nodes.size());
  parallelFor(nodes.counts[2], [&](std::size_t z) {
    for (std::size_t y = 0; y < nodes.counts[1]; ++y)
      for (std::size_t x = 0; x < nodes.counts[0]; ++x)
        distances[nodes.index(x, y, z)] = distance(grid.corner + grid.voxel * Vec3d(x, y, z));
  });
  const std::array<std::size_t, 3> step{1, nodes.row(), nodes.plane()};
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const GridLayout faces = grid.faces(axis);
    const std::size_t one = step[(axis + 1) % 3], other = step[(axis + 2) % 3];
    Vec3d middle(0.5);
    middle[static_cast<int>(axis)] = 0;
    parallelFor(faces.counts[2], [&](std::size_t z) {
      for (std::size_t y = 0; y < faces.counts[1]; ++y)
        for (std::size_t x = 0; x < faces.counts[0]; ++x) {
          const double* at = distances.data() + nodes.index(x, y, z);
          double fraction = positiveFraction({at[0], at[one], at[one + other], at[other]});
          if (fraction >= 1) continue;
          if (fraction < kMinOpen) fraction = 0;
          const std::size_t face = faces.index(x, y, z);
          solids.open[axis][face] *= static_cast<float>(fraction);
          const Vec3d position = grid.corner + grid.voxel * (Vec3d(x, y, z) + middle);
          solids.velocity[axis][face] = static_cast<float>(velocity(position)[static_cast<int>(axis)]);
        }
    });
  }
  return solids;
}

}  // namespace comet
