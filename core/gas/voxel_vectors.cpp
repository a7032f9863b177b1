#include "gas/voxel_vectors.h"

#include "gas/rows.h"

#include <algorithm>

namespace comet {

VoxelVectors voxelVectors(const GridLayout& cells) {
  VoxelVectors vectors;
  for (auto& component : vectors) component.resize(cells.size());
  return vectors;
}

VoxelVectors middleVelocities(const GasGrid& grid, const GasVelocity& velocity) {
  const GridLayout cells = grid.cells();
  VoxelVectors result = voxelVectors(cells);
  forRows(cells, [&](std::size_t y, std::size_t z) {
    for (std::size_t axis = 0; axis < 3; ++axis) {
      const GridLayout faces = grid.faces(axis);
      const float* below = velocity[axis].data() + faces.index(0, y, z);
      const float* above = below + stepAlong(faces, axis);
      float* to = result[axis].data() + cells.index(0, y, z);
      for (std::size_t x = 0; x < cells.counts[0]; ++x) to[x] = 0.5F * (below[x] + above[x]);
    }
  });
  return result;
}

void addToFaces(const GasGrid& grid, const VoxelVectors& change, GasVelocity& velocity) {
  const GridLayout cells = grid.cells();
  for (std::size_t axis = 0; axis < 3; ++axis) {
    if (grid.isStill(axis)) continue;
    const GridLayout faces = grid.faces(axis);
    forRows(faces, [&](std::size_t y, std::size_t z) {
      const std::array<std::size_t, 3> at{0, y, z};
      float* across = velocity[axis].data() + faces.index(0, y, z);
      if (axis == 0) {
        const float* row = change[0].data() + cells.index(0, y, z);
        for (std::size_t x = 1; x < cells.counts[0]; ++x) across[x] += 0.5F * (row[x - 1] + row[x]);
        across[0] += row[0];
        across[cells.counts[0]] += row[cells.counts[0] - 1];
        return;
      }
      auto below = at, above = at;
      if (below[axis] > 0) --below[axis];
      above[axis] = std::min(above[axis], cells.counts[axis] - 1);
      const float* low = change[axis].data() + cells.index(0, below[1], below[2]);
      const float* high = change[axis].data() + cells.index(0, above[1], above[2]);
      for (std::size_t x = 0; x < cells.counts[0]; ++x) across[x] += 0.5F * (low[x] + high[x]);
    });
  }
}

}  // namespace comet
