#include "gas/advect.h"

#include "gas/carry_rows.h"
#include "gas/gas_spot.h"
#include "gas/rows.h"

#include <algorithm>
#include <cmath>
#include <span>

namespace comet {
namespace {

// Three numbers for each voxel.
using PaddedVectors = std::array<PaddedRows, 3>;

PaddedVectors paddedVectors(const GridLayout& layout) {
  return {PaddedRows(layout), PaddedRows(layout), PaddedRows(layout)};
}

// How far what is at each voxel's middle has come during the step, and how far it goes, in voxels.
struct Displacements {
  PaddedVectors before, after;
};

// Both ways with the velocity in the middle of the way (the midpoint rule).
Displacements displacements(const GasGrid& grid, const GasVelocity& velocity, double seconds) {
  const GridLayout cells = grid.cells();
  const auto scale = static_cast<float>(0.5 * seconds / grid.voxel);
  PaddedVectors flow = paddedVectors(cells), back = paddedVectors(cells), ahead = paddedVectors(cells);
  forRows(cells, [&](std::size_t y, std::size_t z) {
    for (std::size_t axis = 0; axis < 3; ++axis) {
      const GridLayout faces = grid.faces(axis);
      const float* below = velocity[axis].data() + faces.index(0, y, z);
      const float* above = below + stepAlong(faces, axis);
      float *to = flow[axis].row(y, z), *goes = ahead[axis].row(y, z), *came = back[axis].row(y, z);
      for (std::size_t x = 0; x < cells.counts[0]; ++x) {
        to[x] = scale * (below[x] + above[x]);
        goes[x] = 0.5F * to[x];
        came[x] = -goes[x];
      }
      for (auto* rows : {&flow, &ahead, &back}) (*rows)[axis].repeatEnds(y, z);
    }
  });
  const CarryNodes nodes(flow[0]);
  const std::array<const float*, 3> flows{flow[0].data(), flow[1].data(), flow[2].data()};
  forRows(cells, [&](std::size_t y, std::size_t z) {
    for (auto* moved : {&back, &ahead}) {
      CarryRow row;
      std::array<float*, 3> result{};
      for (std::size_t axis = 0; axis < 3; ++axis)
        row.one[axis] = row.other[axis] = result[axis] = (*moved)[axis].row(y, z);
      row.y = static_cast<float>(y);
      row.z = static_cast<float>(z);
      row.count = cells.counts[0];
      flowRow(nodes, row, flows, moved == &back ? -1.0F : 1.0F, result);
      for (PaddedRows& component : *moved) component.repeatEnds(y, z);
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
      const PaddedRows& component = displacement[axis];
      row.one[axis] = component.row(axis_ == 1 && y > 0 ? y - 1 : std::min(y, cells_.counts[1] - 1),
                                    axis_ == 2 && z > 0 ? z - 1 : std::min(z, cells_.counts[2] - 1));
      row.other[axis] = component.row(std::min(y, cells_.counts[1] - 1), std::min(z, cells_.counts[2] - 1));
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
    if (grid.open[axis][0]) limits.min[axis] = -0.5F;
    if (grid.open[axis][1]) limits.max[axis] = static_cast<float>(grid.counts[axis]) - 0.5F;
  }
  return limits;
}

// What is known of a channel while it is carried.
class CarriedChannel {
 public:
  explicit CarriedChannel(GasChannel& channel, const GridLayout& layout)
      : channel_(channel),
        layout_(layout),
        before_(layout),
        once_(layout),
        stride_(layout.counts[0] + kRowSlack),
        bounds_(2 * stride_ * layout.counts[1] * layout.counts[2]) {
    forRows(layout, [&](std::size_t y, std::size_t z) {
      std::copy_n(channel_.data() + layout_.index(0, y, z), layout_.counts[0], before_.row(y, z));
      before_.repeatEnds(y, z);
    });
  }

  const PaddedRows& rows() const { return before_; }
  void finishOnce(std::size_t y, std::size_t z) { once_.repeatEnds(y, z); }

  // `result` has room for a row.
  CarryChannel at(std::size_t y, std::size_t z, float* result = nullptr) {
    CarryChannel row;
    row.before = before_.data();
    row.once = once_.data();
    row.was = before_.row(y, z);
    row.carried = once_.row(y, z);
    row.min = bounds_.data() + 2 * stride_ * (z * layout_.counts[1] + y);
    row.max = row.min + stride_;
    row.result = result;
    return row;
  }
  void finish(std::size_t y, std::size_t z, const float* result) {
    std::copy_n(result, layout_.counts[0], channel_.data() + layout_.index(0, y, z));
  }

 private:
  GasChannel& channel_;
  GridLayout layout_;
  PaddedRows before_, once_;
  std::size_t stride_;
  UntouchedVector<float> bounds_;  // the least and the most of each row
};

// Channels with the same nodes after the step.
void carry(const Displacements& moved, const Carried& carried, const CarryLimits& limits,
           std::span<GasChannel* const> channels, const Progress& progress) {
  const GridLayout& layout = carried.layout();
  std::vector<CarriedChannel> known;
  known.reserve(channels.size());
  for (GasChannel* channel : channels) known.emplace_back(*channel, layout);
  const CarryNodes nodes(known.front().rows());
  using Rows = std::vector<CarryChannel>;
  forRowsWith<Rows>(layout, [&](std::size_t y, std::size_t z, Rows& rows) {
    rows.clear();
    for (CarriedChannel& channel : known) rows.push_back(channel.at(y, z));
    carryRow(nodes, carried.rowAt(moved.before, y, z), limits, rows);
    for (CarriedChannel& channel : known) channel.finishOnce(y, z);
  });
  progress.stopIfCancelled();
  struct Room {
    Rows rows;
    std::vector<float> results;
  };
  forRowsWith<Room>(layout, [&](std::size_t y, std::size_t z, Room& room) {
    const std::size_t length = layout.counts[0] + kRowSlack;
    room.results.resize(known.size() * length);
    room.rows.clear();
    for (CarriedChannel& channel : known)
      room.rows.push_back(channel.at(y, z, room.results.data() + room.rows.size() * length));
    correctRow(nodes, carried.rowAt(moved.after, y, z), room.rows);
    for (std::size_t i = 0; i < known.size(); ++i) known[i].finish(y, z, room.rows[i].result);
  });
}

double totalOf(const GasChannel& channel) {
  return sumOfBlocks(channel.size(), [&](std::size_t begin, std::size_t end) {
    double sum = 0;
    for (std::size_t i = begin; i < end; ++i) sum += static_cast<double>(channel[i]);
    return sum;
  });
}

// Tracing back loses or gains a little of the whole; in a closed box it is known what the whole was.
void keepTotal(double was, GasChannel& after) {
  const double is = totalOf(after);
  if (!(was > 0) || !(is > 0)) return;
  const auto factor = static_cast<float>(was / is);
  forBlocks(after.size(), [&](std::size_t begin, std::size_t end) {
    for (std::size_t i = begin; i < end; ++i) after[i] *= factor;
  });
}

// The rows of a channel's nodes in a layer along a wall.
struct WallLayer {
  GridLayout layout;
  std::size_t axis;  // across the wall
  std::size_t at;    // of the layer along it

  std::size_t rows() const { return axis == 2 ? layout.counts[1] : layout.counts[2]; }
  // Calls act(x, y, z) along one of them.
  template <typename Act>
  void along(std::size_t row, const Act& act) const {
    const std::size_t count = layout.counts[axis == 0 ? 1 : 0];
    for (std::size_t i = 0; i < count; ++i)
      act(axis == 0 ? at : i, axis == 0 ? i : axis == 1 ? at : row, axis == 2 ? at : row);
  }
};

// Layer `depth` behind a wall.
WallLayer layerAt(const GridLayout& layout, std::size_t axis, std::size_t side, std::size_t depth) {
  return {layout, axis, side == 0 ? depth : layout.counts[axis] - 1 - depth};
}

// The mean velocity along the open walls: that of the air outside, as far as it is known.
Vec3d airOutside(const GasGrid& grid, const GasVelocity& velocity) {
  Vec3d mean(0.0);
  for (std::size_t component = 0; component < 3; ++component) {
    double sum = 0;
    std::size_t count = 0;
    for (std::size_t axis = 0; axis < 3; ++axis)
      for (std::size_t side = 0; side < 2; ++side) {
        if (!grid.open[axis][side]) continue;
        const WallLayer layer = layerAt(grid.faces(component), axis, side, 0);
        count += layer.layout.size() / layer.layout.counts[axis];
        sum += parallelSum(layer.rows(), [&](std::size_t row) {
          double ofRow = 0;
          layer.along(row, [&](std::size_t x, std::size_t y, std::size_t z) {
            ofRow += static_cast<double>(velocity[component][layer.layout.index(x, y, z)]);
          });
          return ofRow;
        });
      }
    if (count > 0) mean[static_cast<int>(component)] = sum / static_cast<double>(count);
  }
  return mean;
}

// What has come in through an open wall moves as the air outside: a node of that lies beyond the last one of
// the grid. If it kept the velocity that it meets there, it would bring in energy for nothing, and a long
// wind would grow out of a breath.
void bringInAir(const GasGrid& grid, const Displacements& moved, const Vec3d& outside, std::size_t component,
                GasChannel& channel) {
  const Carried nodes(grid, component);
  const auto air = static_cast<float>(outside[static_cast<int>(component)]);
  for (std::size_t axis = 0; axis < 3; ++axis)
    for (std::size_t side = 0; side < 2; ++side) {
      if (!grid.open[axis][side]) continue;
      for (std::size_t depth = 0; depth < nodes.layout().counts[axis]; ++depth) {
        const WallLayer layer = layerAt(nodes.layout(), axis, side, depth);
        const std::size_t met = parallelSum(layer.rows(), [&](std::size_t row) {
          std::size_t count = 0;
          layer.along(row, [&](std::size_t x, std::size_t y, std::size_t z) {
            const CarryRow came = nodes.rowAt(moved.before, y, z);
            const float back = 0.5F * (came.one[axis][x] + came.other[axis][x]);
            const float beyond = (side == 0 ? -back : back) - static_cast<float>(depth);
            if (!(beyond > 0)) return;
            float& value = channel[layer.layout.index(x, y, z)];
            value += (air - value) * std::min(beyond, 1.0F);
            ++count;
          });
          return count;
        });
        if (met == 0) break;
      }
    }
}

// In voxels from the middle of the first one.
Four voxelsFromFirst(const GasGrid& grid, const Vec3d& position) {
  const Vec3d at = (position - grid.corner) / grid.voxel - 0.5;
  return Four{static_cast<float>(at.x), static_cast<float>(at.y), static_cast<float>(at.z), 0};
}

void advectContents(const GasGrid& grid, const Displacements& moved, GasState& state,
                    const Progress& progress) {
  const std::vector<GasChannel*> contents = state.contents();
  std::vector<double> totals;
  if (grid.isClosed())
    for (const GasChannel* channel : contents) totals.push_back(totalOf(*channel));
  carry(moved, Carried(grid), openWalls(grid), contents, progress);
  for (std::size_t i = 0; i < totals.size(); ++i) keepTotal(totals[i], *contents[i]);
}

}  // namespace

void advectContents(const GasGrid& grid, const GasVelocity& flow, double seconds, GasState& state,
                    const Progress& progress) {
  advectContents(grid, displacements(grid, flow, seconds), state, progress);
}

void advect(const GasGrid& grid, const GasVelocity& flow, double seconds, GasState& state,
            const Progress& progress) {
  const Displacements moved = displacements(grid, flow, seconds);
  advectContents(grid, moved, state, progress);
  const Vec3d outside = airOutside(grid, state.velocity);
  for (std::size_t axis = 0; axis < 3; ++axis) {
    if (grid.isStill(axis)) continue;
    progress.stopIfCancelled();
    const std::array<GasChannel*, 1> across{&state.velocity[axis]};
    carry(moved, Carried(grid, axis), noLimits(), across, progress);
    bringInAir(grid, moved, outside, axis, state.velocity[axis]);
  }
}

FlowBetweenFaces::FlowBetweenFaces(const GasGrid& grid, const GasVelocity& velocity)
    : grid_(grid),
      velocity_(velocity),
      faces_{GasNodes(grid.faces(0)), GasNodes(grid.faces(1)), GasNodes(grid.faces(2))} {}

Vec3d FlowBetweenFaces::at(const Vec3d& position) const {
  const Four middle = voxelsFromFirst(grid_, position);
  Vec3d result(0.0);
  for (std::size_t axis = 0; axis < 3; ++axis) {
    Four at = middle;
    at[axis] += 0.5F;
    const GasNodes& nodes = faces_[axis];
    result[static_cast<int>(axis)] =
        static_cast<double>(nodes.valueAt(velocity_[axis].data(), nodes.spotAt(at)));
  }
  return result;
}

double valueAt(const GasGrid& grid, const GasChannel& channel, const Vec3d& position) {
  const GasNodes nodes(grid.cells());
  return static_cast<double>(nodes.valueAt(channel.data(), nodes.spotAt(voxelsFromFirst(grid, position))));
}

}  // namespace comet
