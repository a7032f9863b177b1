#include "gas/resample.h"

#include "gas/gas_spot.h"
#include "gas/rows.h"

#include <optional>

namespace comet {
namespace {

// Where the nodes of a channel lie: at the voxels' middles, or in the middles of the faces across an axis.
Vec3d firstNode(const GasGrid& grid, std::optional<std::size_t> facesAcross) {
  Vec3d first = grid.corner + Vec3d(0.5 * grid.voxel);
  if (facesAcross) first[static_cast<int>(*facesAcross)] = grid.corner[static_cast<int>(*facesAcross)];
  return first;
}

GasChannel resampled(const GasGrid& from, const GasChannel& channel, const GasGrid& to,
                     std::optional<std::size_t> facesAcross = {}) {
  if (channel.empty()) return {};
  const GridLayout before = facesAcross ? from.faces(*facesAcross) : from.cells();
  const GridLayout after = facesAcross ? to.faces(*facesAcross) : to.cells();
  const GasNodes nodes(before);
  const Vec3d first = firstNode(to, facesAcross), firstBefore = firstNode(from, facesAcross);
  const Vec3d end = from.corner + from.size();
  GasChannel result(after.size(), 0.0F);
  forRows(after, [&](std::size_t y, std::size_t z) {
    for (std::size_t x = 0; x < after.counts[0]; ++x) {
      const Vec3d place =
          first + to.voxel * Vec3d(static_cast<double>(x), static_cast<double>(y), static_cast<double>(z));
      bool isInside = true;
      for (int axis = 0; axis < 3; ++axis)
        isInside &= place[axis] >= from.corner[axis] && place[axis] <= end[axis];
      if (!isInside) continue;
      const Vec3d at = (place - firstBefore) / from.voxel;
      const GasSpot spot =
          nodes.spotAt(Four{static_cast<float>(at.x), static_cast<float>(at.y), static_cast<float>(at.z), 0});
      result[after.index(x, y, z)] = nodes.valueAt(channel.data(), spot);
    }
  });
  return result;
}

}  // namespace

GasState resampled(const GasGrid& from, const GasState& state, const GasGrid& to) {
  GasState result;
  for (std::size_t axis = 0; axis < 3; ++axis) {
    result.velocity[axis] = resampled(from, state.velocity[axis], to, axis);
    result.color[axis] = resampled(from, state.color[axis], to);
  }
  result.density = resampled(from, state.density, to);
  result.temperature = resampled(from, state.temperature, to);
  result.age = resampled(from, state.age, to);
  result.fuel = resampled(from, state.fuel, to);
  return result;
}

}  // namespace comet
