#include "gas/advect.h"

#include "base/parallel.h"
#include "base/untouched.h"
#include "gas/carry_rows.h"
#include "gas/gas_spot.h"
#include "gas/rows.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

// Three numbers for each voxel, in rows with a number more at each end, which repeats the row's own, and room
// for whole vectors.
class PaddedVectors {
 public:
  explicit PaddedVectors(const GridLayout& cells) : cells_(cells), stride_(cells.counts[0] + 2 + kRowSlack) {
    for (auto& component : components_)
      component.resize(stride_ * cells.counts[1] * cells.counts[2] + kRowSlack);
  }

  // The row's first voxel; the number before it can be read too.
  float* row(std::size_t axis, std::size_t y, std::size_t z) {
    return components_[axis].data() + (z * cells_.counts[1] + y) * stride_ + 1;
  }
  const float* row(std::size_t axis, std::size_t y, std::size_t z) const {
    return components_[axis].data() + (z * cells_.counts[1] + y) * stride_ + 1;
  }
  void repeatEnds(std::size_t y, std::size_t z) {
    for (std::size_t axis = 0; axis < 3; ++axis) {
      float* values = row(axis, y, z);
      values[-1] = values[0];
      // As far as whole vectors reach.
      std::fill(values + cells_.counts[0], values + cells_.counts[0] + kRowSlack,
                values[cells_.counts[0] - 1]);
    }
  }

 private:
  GridLayout cells_;
  std::size_t stride_;
  std::array<UntouchedVector<float>, 3> components_;
};

// How far what is at each voxel's middle has come during the step, and how far it goes, in voxels.
struct Displacements {
  PaddedVectors before, after;
};

// Both ways with the velocity in the middle of the way (the midpoint rule).
Displacements displacements(const GasGrid& grid, const GasVelocity& velocity, double seconds) {
  const GridLayout cells = grid.cells();
  const auto scale = static_cast<float>(0.5 * seconds / grid.voxel);
  std::array<UntouchedVector<float>, 3> flow;
  for (auto& component : flow) component.resize(cells.size());
  PaddedVectors back(cells), ahead(cells);
  forRows(cells, [&](std::size_t y, std::size_t z) {
    for (std::size_t axis = 0; axis < 3; ++axis) {
      const GridLayout faces = grid.faces(axis);
      const float* below = velocity[axis].data() + faces.index(0, y, z);
      const float* above = below + stepAlong(faces, axis);
      float *to = flow[axis].data() + cells.index(0, y, z), *goes = ahead.row(axis, y, z),
            *came = back.row(axis, y, z);
      for (std::size_t x = 0; x < cells.counts[0]; ++x) {
        to[x] = scale * (below[x] + above[x]);
        goes[x] = 0.5F * to[x];
        came[x] = -goes[x];
      }
    }
    back.repeatEnds(y, z);
    ahead.repeatEnds(y, z);
  });
  const CarryNodes nodes(cells);
  const std::array<const float*, 3> flows{flow[0].data(), flow[1].data(), flow[2].data()};
  forRows(cells, [&](std::size_t y, std::size_t z) {
    for (auto* moved : {&back, &ahead}) {
      CarryRow row;
      std::array<float*, 3> result{};
      for (std::size_t axis = 0; axis < 3; ++axis)
        row.one[axis] = row.other[axis] = result[axis] = moved->row(axis, y, z);
      row.y = static_cast<float>(y);
      row.z = static_cast<float>(z);
      row.count = cells.counts[0];
      flowRow(nodes, row, flows, moved == &back ? -1.0F : 1.0F, result);
      moved->repeatEnds(y, z);
    }
  });
  return {std::move(back), std::move(ahead)};
}

// The nodes of what is carried: the voxels' middles, or the faces across an axis.
class Carried {
 public:
  explicit Carried(const GasGrid& grid) : layout_(grid.cells()), cells_(grid.cells()) {}
  Carried(const GasGrid& grid, std::size_t axis)
      : layout_(grid.faces(axis)), cells_(grid.cells()), axis_(axis) {}

  const GridLayout& layout() const { return layout_; }

  // Where the nodes of a row come from or go to. A face goes as far as the voxels beside it do on average.
  CarryRow rowAt(const PaddedVectors& displacement, std::size_t y, std::size_t z) const {
    CarryRow row;
    row.y = static_cast<float>(y);
    row.z = static_cast<float>(z);
    row.count = layout_.counts[0];
    for (std::size_t axis = 0; axis < 3; ++axis) {
      row.one[axis] = displacement.row(axis, axis_ == 1 && y > 0 ? y - 1 : std::min(y, cells_.counts[1] - 1),
                                       axis_ == 2 && z > 0 ? z - 1 : std::min(z, cells_.counts[2] - 1));
      row.other[axis] =
          displacement.row(axis, std::min(y, cells_.counts[1] - 1), std::min(z, cells_.counts[2] - 1));
      if (axis_ == 0) --row.one[axis];
    }
    return row;
  }

 private:
  GridLayout layout_, cells_;
  std::size_t axis_ = 3;  // 3 for the voxels' middles
};

constexpr float kFar = 1e30F;

CarryLimits noLimits() { return {{-kFar, -kFar, -kFar}, {kFar, kFar, kFar}}; }

// The box as far as its walls are open.
CarryLimits openWalls(const GasGrid& grid) {
  CarryLimits limits = noLimits();
  for (std::size_t axis = 0; axis < 3; ++axis) {
    if (grid.open[axis][0]) limits.least[axis] = -0.5F;
    if (grid.open[axis][1]) limits.most[axis] = static_cast<float>(grid.counts[axis]) - 0.5F;
  }
  return limits;
}

// A channel after the step.
GasChannel carry(const Displacements& moved, const Carried& carried, const CarryLimits& limits,
                 const GasChannel& before) {
  const GridLayout& layout = carried.layout();
  const CarryNodes nodes(layout);
  const std::size_t count = layout.counts[0], stride = count + kRowSlack;
  UntouchedVector<float> once(layout.size()), bounds(2 * stride * layout.counts[1] * layout.counts[2]);
  const auto boundsOf = [&](std::size_t y, std::size_t z) {
    return bounds.data() + 2 * stride * (z * layout.counts[1] + y);
  };
  forRows(layout, [&](std::size_t y, std::size_t z) {
    float* least = boundsOf(y, z);
    std::vector<float> row(stride);
    carryRow(nodes, carried.rowAt(moved.before, y, z), limits, before.data(), row.data(), least,
             least + stride);
    std::copy_n(row.data(), count, once.data() + layout.index(0, y, z));
  });
  GasChannel result(layout.size());
  forRows(layout, [&](std::size_t y, std::size_t z) {
    const std::size_t start = layout.index(0, y, z);
    const float* least = boundsOf(y, z);
    std::vector<float> rows(3 * stride);
    float *was = rows.data(), *is = was + stride, *corrected = is + stride;
    std::copy_n(before.data() + start, count, was);
    std::copy_n(once.data() + start, count, is);
    correctRow(nodes, carried.rowAt(moved.after, y, z), once.data(), was, is, least, least + stride,
               corrected);
    std::copy_n(corrected, count, result.data() + start);
  });
  return result;
}

double totalOf(const GridLayout& layout, const GasChannel& channel) {
  return parallelSum(layout.counts[2], [&](std::size_t z) {
    double sum = 0;
    for (std::size_t i = z * layout.plane(); i < (z + 1) * layout.plane(); ++i)
      sum += static_cast<double>(channel[i]);
    return sum;
  });
}

// Tracing back loses or gains a little of the whole; in a closed box it is known what the whole was.
void keepTotal(const GridLayout& layout, const GasChannel& before, GasChannel& after) {
  const double was = totalOf(layout, before), is = totalOf(layout, after);
  if (!(was > 0) || !(is > 0)) return;
  const auto factor = static_cast<float>(was / is);
  parallelFor(layout.counts[2], [&](std::size_t z) {
    for (std::size_t i = z * layout.plane(); i < (z + 1) * layout.plane(); ++i) after[i] *= factor;
  });
}

// In voxels from the middle of the first one.
Four voxelsFromFirst(const GasGrid& grid, const Vec3d& position) {
  const Vec3d at = (position - grid.corner) / grid.voxel - 0.5;
  return Four{static_cast<float>(at.x), static_cast<float>(at.y), static_cast<float>(at.z), 0};
}

}  // namespace

void advect(const GasGrid& grid, const GasVelocity& flow, double seconds, GasState& state) {
  const Displacements moved = displacements(grid, flow, seconds);
  const Carried voxels(grid);
  for (GasChannel* channel : {&state.density, &state.temperature}) {
    GasChannel after = carry(moved, voxels, openWalls(grid), *channel);
    if (grid.isClosed()) keepTotal(grid.cells(), *channel, after);
    *channel = std::move(after);
  }
  for (std::size_t axis = 0; axis < 3; ++axis)
    state.velocity[axis] = carry(moved, Carried(grid, axis), noLimits(), state.velocity[axis]);
}

Vec3d velocityAt(const GasGrid& grid, const GasVelocity& velocity, const Vec3d& position) {
  Vec3d result(0.0);
  for (std::size_t axis = 0; axis < 3; ++axis) {
    Four at = voxelsFromFirst(grid, position);
    at[axis] += 0.5F;
    const GasNodes nodes(grid.faces(axis));
    result[static_cast<int>(axis)] =
        static_cast<double>(nodes.valueAt(velocity[axis].data(), nodes.spotAt(at)));
  }
  return result;
}

double valueAt(const GasGrid& grid, const GasChannel& channel, const Vec3d& position) {
  const GasNodes nodes(grid.cells());
  return static_cast<double>(nodes.valueAt(channel.data(), nodes.spotAt(voxelsFromFirst(grid, position))));
}

}  // namespace comet
