#include "gas/vorticity.h"

#include "gas/rows.h"
#include "gas/voxel_vectors.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

// The change of numbers from voxel to voxel along an axis, per unit, for a row along x; one-sided at walls.
class RowSlope {
 public:
  explicit RowSlope(const GasGrid& grid) : cells_(grid.cells()), voxel_(static_cast<float>(grid.voxel)) {}

  void along(std::size_t axis, const float* values, std::size_t y, std::size_t z,
             std::vector<float>& result) const {
    const std::size_t count = cells_.counts[0];
    result.resize(count);
    const std::array<std::size_t, 3> at{0, y, z};
    if (axis > 0) {
      const std::size_t start = cells_.index(0, y, z), step = stepAlong(cells_, axis);
      const std::size_t down = at[axis] > 0 ? 1 : 0, up = at[axis] + 1 < cells_.counts[axis] ? 1 : 0;
      const float *below = values + start - down * step, *above = values + start + up * step;
      const float perUnit = up + down > 0 ? 1 / (voxel_ * static_cast<float>(up + down)) : 0.0F;
      for (std::size_t x = 0; x < count; ++x) result[x] = (above[x] - below[x]) * perUnit;
      return;
    }
    const float* row = values + cells_.index(0, y, z);
    const float perUnit = 0.5F / voxel_;
    for (std::size_t x = 1; x + 1 < count; ++x) result[x] = (row[x + 1] - row[x - 1]) * perUnit;
    result.front() = count > 1 ? (row[1] - row[0]) / voxel_ : 0.0F;
    result.back() = count > 1 ? (row[count - 1] - row[count - 2]) / voxel_ : 0.0F;
  }

 private:
  GridLayout cells_;
  float voxel_;
};

// What a push adds to the energy of a flow, to first order.
double workOf(const VoxelVectors& push, const VoxelVectors& velocity) {
  double sum = 0;
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const float *a = push[axis].data(), *b = velocity[axis].data();
    sum += sumOfBlocks(push[axis].size(), [=](std::size_t begin, std::size_t end) {
      double work = 0;
      for (std::size_t i = begin; i < end; ++i) work += static_cast<double>(a[i]) * static_cast<double>(b[i]);
      return work;
    });
  }
  return sum;
}

void scale(VoxelVectors& vectors, double by) {
  const auto factor = static_cast<float>(by);
  for (auto& component : vectors) {
    float* values = component.data();
    forBlocks(component.size(), [=](std::size_t begin, std::size_t end) {
      for (std::size_t i = begin; i < end; ++i) values[i] *= factor;
    });
  }
}

}  // namespace

void confineVorticity(const GasGrid& grid, double strength, double seconds, double max,
                      GasVelocity& velocity) {
  if (strength == 0 || max <= 0) return;
  const GridLayout cells = grid.cells();
  const VoxelVectors middle = middleVelocities(grid, velocity);
  VoxelVectors curl = voxelVectors(cells), push = voxelVectors(cells);
  UntouchedVector<float> strengths(cells.size());
  const RowSlope slope(grid);
  const bool isFlat = grid.isStill(0) || grid.isStill(1) || grid.isStill(2);
  using Slopes = std::array<std::vector<float>, 3>;
  forRowsWith<Slopes>(cells, [&](std::size_t y, std::size_t z, Slopes& slopes) {
    auto& [up, down, squares] = slopes;
    const std::size_t start = cells.index(0, y, z), count = cells.counts[0];
    squares.assign(count, 0.0F);
    for (std::size_t axis = 0; axis < 3; ++axis) {
      float* turning = curl[axis].data() + start;
      // Flat gas turns around the axis along which it is still.
      if (isFlat && !grid.isStill(axis)) {
        std::fill_n(turning, count, 0.0F);
        continue;
      }
      const std::size_t one = (axis + 1) % 3, other = (axis + 2) % 3;
      slope.along(one, middle[other].data(), y, z, up);
      slope.along(other, middle[one].data(), y, z, down);
      for (std::size_t x = 0; x < count; ++x) {
        turning[x] = up[x] - down[x];
        squares[x] += turning[x] * turning[x];
      }
    }
    for (std::size_t x = 0; x < count; ++x) strengths[start + x] = std::sqrt(squares[x]);
  });
  const auto much = static_cast<float>(strength * grid.voxel * seconds);
  forRowsWith<Slopes>(cells, [&](std::size_t y, std::size_t z, Slopes& towards) {
    for (std::size_t axis = 0; axis < 3; ++axis) slope.along(axis, strengths.data(), y, z, towards[axis]);
    const std::size_t start = cells.index(0, y, z);
    const float *a = towards[0].data(), *b = towards[1].data(), *c = towards[2].data();
    const float *u = curl[0].data() + start, *v = curl[1].data() + start, *w = curl[2].data() + start;
    float *x = push[0].data() + start, *up = push[1].data() + start, *ahead = push[2].data() + start;
    for (std::size_t i = 0; i < cells.counts[0]; ++i) {
      const float length = std::sqrt(a[i] * a[i] + b[i] * b[i] + c[i] * c[i]);
      const float unit = length > 1e-12F ? much / length : 0.0F;
      x[i] = unit * (b[i] * w[i] - c[i] * v[i]);
      up[i] = unit * (c[i] * u[i] - a[i] * w[i]);
      ahead[i] = unit * (a[i] * v[i] - b[i] * u[i]);
    }
  });
  const double given = workOf(push, middle);
  if (given > max) scale(push, max / given);
  addToFaces(grid, push, velocity);
}

}  // namespace comet
