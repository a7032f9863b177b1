#include "particles/neighbour_grid.h"

#include <cmath>
#include <glm/common.hpp>

namespace comet {
namespace {

// More cells than this per particle are not worth their memory; where particles are spread far, cells grow.
constexpr double kMostCellsEach = 4;
constexpr double kFewestCells = 4096;

}  // namespace

NeighbourGrid::NeighbourGrid(const std::vector<const ParticleStore*>& stores, double radius)
    : radius_(radius), cell_(radius) {
  std::vector<Particle> all;
  Vec3d most(0.0);
  for (const ParticleStore* store : stores)
    for (std::size_t i = 0; i < store->size(); ++i) {
      const Vec3d place = store->position(i);
      least_ = all.empty() ? place : glm::min(least_, place);
      most = all.empty() ? place : glm::max(most, place);
      all.push_back({Vec3(place), Vec3(store->velocity(i)), store->ids()[i]});
    }
  if (all.empty()) return;
  const Vec3d extent = most - least_;
  const double mostCells = kFewestCells + kMostCellsEach * static_cast<double>(all.size());
  const auto cellsAlong = [&](int axis) { return std::floor(extent[axis] / cell_) + 1; };
  while (cellsAlong(0) * cellsAlong(1) * cellsAlong(2) > mostCells) cell_ *= 1.25;
  for (int axis = 0; axis < 3; ++axis) counts_[axis] = static_cast<std::size_t>(cellsAlong(axis));
  // Counting sort, stable.
  starts_.assign(counts_[0] * counts_[1] * counts_[2] + 1, 0);
  for (const Particle& particle : all) ++starts_[cellOf(particle.position) + 1];
  for (std::size_t cell = 1; cell < starts_.size(); ++cell) starts_[cell] += starts_[cell - 1];
  std::vector<std::uint32_t> next(starts_.begin(), starts_.end() - 1);
  particles_.resize(all.size());
  for (const Particle& particle : all) particles_[next[cellOf(particle.position)]++] = particle;
}

}  // namespace comet
