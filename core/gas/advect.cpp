#include "gas/advect.h"

#include "base/parallel.h"
#include "gas/gas_spot.h"

#include <algorithm>
#include <cmath>
#include <cstring>

namespace comet {
namespace {

// Four numbers that are loaded and mixed at once (a vector of the compiler): the velocity at a voxel's
// middle.
using Four = float __attribute__((vector_size(16)));

Four loadFour(const float* from) {
  Four four;
  std::memcpy(&four, from, sizeof four);
  return four;
}

// Follows the flow of a velocity that is known at the voxels' middles, in voxels per step.
class Tracer {
 public:
  Tracer(const GasGrid& grid, const GasVelocity& velocity, double seconds)
      : layout_(grid.cells()), flow_(4 * layout_.size()) {
    const auto scale = static_cast<float>(0.5 * seconds / grid.voxel);
    parallelFor(layout_.counts[2], [&](std::size_t z) {
      for (std::size_t y = 0; y < layout_.counts[1]; ++y)
        for (std::size_t x = 0; x < layout_.counts[0]; ++x) {
          float* to = flow_.data() + 4 * layout_.index(x, y, z);
          for (std::size_t axis = 0; axis < 3; ++axis) {
            const GridLayout faces = grid.faces(axis);
            const std::size_t below = faces.index(x, y, z);
            const std::size_t above = below + stepAlong(faces, axis);
            to[axis] = scale * (velocity[axis][below] + velocity[axis][above]);
          }
          to[3] = 0;
        }
    });
  }

  // Where what is at a point, in voxels from the first one's middle, is after the step, or was before it with
  // a direction of -1.
  std::array<float, 3> follow(const std::array<float, 3>& from, float direction) const {
    const Four half = flowAt(from);
    const std::array<float, 3> middle{from[0] + 0.5F * direction * half[0],
                                      from[1] + 0.5F * direction * half[1],
                                      from[2] + 0.5F * direction * half[2]};
    const Four flow = flowAt(middle);
    return {from[0] + direction * flow[0], from[1] + direction * flow[1], from[2] + direction * flow[2]};
  }

 private:
  Four flowAt(const std::array<float, 3>& at) const {
    const GasSpot spot(layout_, at[0], at[1], at[2]);
    const float* base = flow_.data() + 4 * spot.index;
    const std::size_t right = 4 * spot.right, up = 4 * spot.up, ahead = 4 * spot.ahead;
    const auto between = [](Four a, Four b, float t) { return a + (b - a) * t; };
    const auto plane = [&](const float* from) {
      return between(between(loadFour(from), loadFour(from + right), spot.x),
                     between(loadFour(from + up), loadFour(from + up + right), spot.x), spot.y);
    };
    return between(plane(base), plane(base + ahead), spot.z);
  }

  GridLayout layout_;
  std::vector<float> flow_;  // four for each voxel
};

// One of the things that are carried: its nodes, and where the first one lies, in voxels from the first
// voxel's middle.
struct Carried {
  GridLayout layout;
  std::array<float, 3> first{};

  std::array<float, 3> pointOf(std::size_t x, std::size_t y, std::size_t z) const {
    return {static_cast<float>(x) + first[0], static_cast<float>(y) + first[1],
            static_cast<float>(z) + first[2]};
  }
  GasSpot spotAt(const std::array<float, 3>& at) const {
    return {layout, at[0] - first[0], at[1] - first[1], at[2] - first[2]};
  }
};

Carried carriedFaces(const GasGrid& grid, std::size_t axis) {
  Carried carried{grid.faces(axis)};
  carried.first[axis] = -0.5F;
  return carried;
}

// Calls act(index, point) for each node, from all threads.
template <typename Act>
void forNodes(const Carried& carried, const Act& act) {
  const GridLayout& layout = carried.layout;
  parallelFor(layout.counts[1] * layout.counts[2], [&](std::size_t row) {
    const std::size_t y = row % layout.counts[1], z = row / layout.counts[1];
    for (std::size_t x = 0; x < layout.counts[0]; ++x) act(layout.index(x, y, z), carried.pointOf(x, y, z));
  });
}

// Whether a point lies beyond an open wall, where there is air without anything in it.
class OutsideAir {
 public:
  explicit OutsideAir(const GasGrid& grid) {
    for (std::size_t axis = 0; axis < 3; ++axis) {
      if (grid.open[axis][0]) least_[axis] = -0.5F;
      if (grid.open[axis][1]) most_[axis] = static_cast<float>(grid.counts[axis]) - 0.5F;
    }
  }
  bool holds(const std::array<float, 3>& at) const {
    for (std::size_t axis = 0; axis < 3; ++axis)
      if (at[axis] < least_[axis] || at[axis] > most_[axis]) return true;
    return false;
  }

 private:
  static constexpr float kFar = 1e30F;
  std::array<float, 3> least_{-kFar, -kFar, -kFar}, most_{kFar, kFar, kFar};
};

// One channel after the step; with `outside`, what comes from there is 0.
GasChannel carry(const Tracer& tracer, const Carried& carried, const GasChannel& before,
                 const OutsideAir* outside) {
  GasChannel once(before.size()), result(before.size());
  const float* from = before.data();
  forNodes(carried, [&](std::size_t i, const std::array<float, 3>& point) {
    const auto was = tracer.follow(point, -1);
    const GasSpot spot = carried.spotAt(was);
    once[i] = outside && outside->holds(was) ? 0.0F : spot.mix(valuesAround(from, spot));
  });
  forNodes(carried, [&](std::size_t i, const std::array<float, 3>& point) {
    const auto was = tracer.follow(point, -1);
    if (outside && outside->holds(was)) return;
    const GasSpot goes = carried.spotAt(tracer.follow(point, 1));
    const float back = goes.mix(valuesAround(once.data(), goes));
    const auto around = valuesAround(from, carried.spotAt(was));
    const auto [least, most] = std::minmax_element(around.begin(), around.end());
    result[i] = std::clamp(once[i] + 0.5F * (before[i] - back), *least, *most);
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

Vec3d voxelsFromFirst(const GasGrid& grid, const Vec3d& position) {
  return (position - grid.corner) / grid.voxel - 0.5;
}

std::array<float, 3> asFloats(const Vec3d& v) {
  return {static_cast<float>(v.x), static_cast<float>(v.y), static_cast<float>(v.z)};
}

}  // namespace

void advect(const GasGrid& grid, const GasVelocity& flow, double seconds, GasState& state) {
  const Tracer tracer(grid, flow, seconds);
  const OutsideAir outside(grid);
  const Carried voxels{grid.cells()};
  for (GasChannel* channel : {&state.density, &state.temperature}) {
    GasChannel after = carry(tracer, voxels, *channel, &outside);
    if (grid.isClosed()) keepTotal(grid.cells(), *channel, after);
    *channel = std::move(after);
  }
  for (std::size_t axis = 0; axis < 3; ++axis)
    state.velocity[axis] = carry(tracer, carriedFaces(grid, axis), state.velocity[axis], nullptr);
}

Vec3d velocityAt(const GasGrid& grid, const GasVelocity& velocity, const Vec3d& position) {
  const auto at = asFloats(voxelsFromFirst(grid, position));
  Vec3d result(0.0);
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const GasSpot spot = carriedFaces(grid, axis).spotAt(at);
    result[static_cast<int>(axis)] = static_cast<double>(spot.mix(valuesAround(velocity[axis].data(), spot)));
  }
  return result;
}

double valueAt(const GasGrid& grid, const GasChannel& channel, const Vec3d& position) {
  const GasSpot spot = Carried{grid.cells()}.spotAt(asFloats(voxelsFromFirst(grid, position)));
  return static_cast<double>(spot.mix(valuesAround(channel.data(), spot)));
}

}  // namespace comet
