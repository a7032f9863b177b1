#include "simulation/gas_forces.h"

#include "base/parallel.h"
#include "gas/voxel_vectors.h"

#include <algorithm>
#include <cmath>
#include <memory>
#include <tbb/enumerable_thread_specific.h>

namespace comet {
namespace {

// One thread's samples at voxels, and what acts there. Zeroed: whole vectors are read.
struct VoxelSamples {
  alignas(64) std::array<ChunkArray, 3> positions{}, velocities{};
  Forces forces;
  ChunkArray weights{};

  Samples samples(std::size_t count) const {
    Samples at;
    at.count = count;
    for (std::size_t axis = 0; axis < 3; ++axis) {
      at.positions[axis] = positions[axis].data();
      at.velocities[axis] = velocities[axis].data();
    }
    return at;
  }
};

// The seconds for which an acceleration counts in full that a drag of so much works against while it lasts:
// exactly, however strong the drag is. One drag is often that of many voxels in turn.
class SecondsUnderDrag {
 public:
  explicit SecondsUnderDrag(double seconds) : seconds_(seconds), counted_(seconds) {}

  double operator()(double drag) {
    if (drag == drag_) return counted_;
    drag_ = drag;
    const double fall = drag * seconds_;
    return counted_ = fall > 1e-6 ? seconds_ * (-std::expm1(-fall) / fall) : seconds_;
  }

 private:
  double seconds_, drag_ = 0, counted_;
};

Vec3d changeAt(const Forces& forces, std::size_t i, const Vec3d& velocity, double density,
               SecondsUnderDrag& under) {
  const Vec3d against = forces.air.of(i) - velocity;
  const Vec3d drag = forces.drag.of(i) + forces.dragBySpeed.of(i) * glm::length(against);
  const Vec3d pushed = forces.acceleration.of(i) + forces.force.of(i) + forces.spring.of(i);
  const Vec3d acceleration = pushed * density + drag * against + glm::cross(forces.turn.of(i), velocity);
  const double counted = under(drag.x);
  if (drag.y == drag.x && drag.z == drag.x) return acceleration * counted;
  return acceleration * Vec3d(counted, under(drag.y), under(drag.z));
}

// Calls act(i, place) with the middles of voxels, from the one with the number `first` on.
template <typename Act>
void forMiddles(const GasGrid& grid, std::size_t first, std::size_t count, const Act& act) {
  const GridLayout cells = grid.cells();
  std::size_t x = first % cells.row(), row = first / cells.row();
  for (std::size_t i = 0; i < count; ++row, x = 0) {
    Vec3d place = grid.middleOf(0, row % cells.counts[1], row / cells.counts[1]);
    for (; x < cells.row() && i < count; ++x, ++i) {
      place.x = grid.corner.x + grid.voxel * (static_cast<double>(x) + 0.5);
      act(i, place);
    }
  }
}

}  // namespace

GasForces::GasForces(const GasPlan& plan, const Substep& substep)
    : grid_(plan.grid), timeScale_(plan.timeScale), substep_(substep) {
  for (const ActingInfluence& acting : plan.influences)
    if (acting.action().adds()) pushing_.push_back(&acting);
}

void GasForces::push(const GasChannel& density, double seconds, GasVelocity& velocity) const {
  if (empty()) return;
  const GridLayout cells = grid_.cells();
  const VoxelVectors middle = middleVelocities(grid_, velocity);
  VoxelVectors change = voxelVectors(cells);
  // Influences know the time of the scene alone.
  const auto timeScale = static_cast<float>(timeScale_);
  tbb::enumerable_thread_specific<std::unique_ptr<VoxelSamples>> rooms;
  const std::size_t chunks = (cells.size() + kChunkSize - 1) / kChunkSize;
  parallelFor(chunks, [&](std::size_t chunk) {
    auto& room = rooms.local();
    if (!room) room = std::make_unique<VoxelSamples>();
    const std::size_t first = chunk * kChunkSize, count = std::min(kChunkSize, cells.size() - first);
    forMiddles(grid_, first, count, [&](std::size_t i, const Vec3d& place) {
      for (std::size_t axis = 0; axis < 3; ++axis) {
        room->positions[axis][i] = static_cast<float>(place[static_cast<int>(axis)]);
        room->velocities[axis][i] = middle[axis][first + i] * timeScale;
      }
    });
    const Samples samples = room->samples(count);
    room->forces.clear();
    for (const ActingInfluence* acting : pushing_)
      acting->action().addTo(room->forces, samples, substep_,
                             acting->weights(samples, substep_, room->weights));
    SecondsUnderDrag under(seconds / timeScale_);
    for (std::size_t i = 0; i < count; ++i) {
      const double dense = std::clamp(static_cast<double>(density[first + i]), 0.0, 1.0);
      const Vec3d more = changeAt(room->forces, i, samples.velocity(i), dense, under) / timeScale_;
      for (std::size_t axis = 0; axis < 3; ++axis)
        change[axis][first + i] = static_cast<float>(more[static_cast<int>(axis)]);
    }
  });
  addToFaces(grid_, change, velocity);
}

}  // namespace comet
