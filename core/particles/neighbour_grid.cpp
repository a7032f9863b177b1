#include "particles/neighbour_grid.h"

#include <cmath>
#include <glm/common.hpp>

namespace comet {
namespace {

// More cells than this per particle are not worth their memory; where particles are spread far, cells grow.
constexpr double kMostCellsEach = 4;
constexpr double kFewestCells = 4096;

// Behind the last particle, for reading whole vectors.
constexpr std::size_t kPadding = 16;

}  // namespace

NeighbourGrid::NeighbourGrid(const std::vector<const ParticleStore*>& stores, double radius)
    : radius_(radius), cell_(radius) {
  std::size_t count = 0;
  for (const ParticleStore* store : stores) count += store->size();
  if (count == 0) return;
  setCells(stores, count);
  // Counting sort, stable.
  std::vector<std::uint32_t> cells;
  cells.reserve(count);
  starts_.assign(counts_[0] * counts_[1] * counts_[2] + 1, 0);
  for (const ParticleStore* store : stores)
    for (std::size_t i = 0; i < store->size(); ++i) {
      cells.push_back(static_cast<std::uint32_t>(cellOf(store->position(i))));
      ++starts_[cells.back() + 1];
    }
  for (std::size_t cell = 1; cell < starts_.size(); ++cell) starts_[cell] += starts_[cell - 1];
  for (auto* triple : {&arrays_.position, &arrays_.velocity})
    for (std::vector<float>& values : *triple) values.assign(count + kPadding, 0.0F);
  arrays_.ids.resize(count);
  arrays_.marks.assign(count + kPadding, 0);
  std::vector<std::uint32_t> next(starts_.begin(), starts_.end() - 1);
  const std::uint32_t* cell = cells.data();
  for (const ParticleStore* store : stores)
    for (std::size_t i = 0; i < store->size(); ++i) put(*store, i, next[*cell++]++);
}

void NeighbourGrid::put(const ParticleStore& store, std::size_t index, std::size_t target) {
  for (int axis = 0; axis < 3; ++axis) {
    const auto field = [axis](int first) { return static_cast<ParticleStore::Field>(first + axis); };
    const auto at = static_cast<std::size_t>(axis);
    arrays_.position[at][target] = store.field(field(ParticleStore::PositionX))[index];
    arrays_.velocity[at][target] = store.field(field(ParticleStore::VelocityX))[index];
  }
  arrays_.ids[target] = store.ids()[index];
  arrays_.marks[target] = markOf(store.ids()[index]);
}

void NeighbourGrid::setCells(const std::vector<const ParticleStore*>& stores, std::size_t count) {
  Vec3d most(-1e300);
  least_ = Vec3d(1e300);
  for (const ParticleStore* store : stores)
    for (std::size_t i = 0; i < store->size(); ++i) {
      least_ = glm::min(least_, store->position(i));
      most = glm::max(most, store->position(i));
    }
  const Vec3d extent = most - least_;
  const double mostCells = kFewestCells + kMostCellsEach * static_cast<double>(count);
  const auto cellsAlong = [&](int axis) { return std::floor(extent[axis] / cell_) + 1; };
  while (cellsAlong(0) * cellsAlong(1) * cellsAlong(2) > mostCells) cell_ *= 1.25;
  for (int axis = 0; axis < 3; ++axis) counts_[axis] = static_cast<std::size_t>(cellsAlong(axis));
}

}  // namespace comet
