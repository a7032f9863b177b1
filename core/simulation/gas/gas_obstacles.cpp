#include "simulation/gas/gas_obstacles.h"

#include <cmath>
#include <limits>

namespace comet {
namespace {

struct Placed {
  const Deflector* deflector;
  Pose pose;
  double thickness;  // half of it, of what has none of its own
};

struct Nearest {
  double distance = std::numeric_limits<double>::infinity();
  const Placed* placed = nullptr;
};

Nearest nearestTo(const Vec3d& position, const std::vector<Placed>& all, double within) {
  Nearest nearest;
  for (const Placed& placed : all) {
    const DeflectorShape& shape = placed.deflector->shape();
    const Vec3d own = placed.pose.toOwn(position);
    double distance = shape.at(own, within).distance - placed.thickness;
    // Far from a mesh's surface may be deep inside.
    if (std::isinf(distance) && shape.isInside(own)) distance = -within;
    if (distance < nearest.distance) nearest = {distance, &placed};
  }
  return nearest;
}

}  // namespace

GasSolids solidsOf(const GasGrid& grid, const std::vector<const Deflector*>& deflectors, double seconds,
                   double timeScale) {
  if (deflectors.empty()) return wallsOnly(grid);
  std::vector<Placed> all;
  for (const Deflector* deflector : deflectors)
    all.push_back({deflector, deflector->motion().at(deflector->fractionAt(seconds)),
                   deflector->shape().isThin() ? 0.51 * grid.voxel : 0.0});
  // No face is cut by a surface that is farther from its corners than its own diagonal.
  const double within = 4 * grid.voxel;
  const auto distance = [&](const Vec3d& position) {
    const double found = nearestTo(position, all, within).distance;
    return std::isinf(found) ? within : found;
  };
  const auto velocity = [&](const Vec3d& position) {
    const Placed* placed = nearestTo(position, all, within).placed;
    return placed ? placed->deflector->motion().velocityAt(position, placed->pose) / timeScale : Vec3d(0.0);
  };
  return solidsOf(grid, distance, velocity);
}

}  // namespace comet
