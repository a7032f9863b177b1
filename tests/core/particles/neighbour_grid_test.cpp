#include "particles/neighbour_grid.h"

#include <glm/geometric.hpp>
#include <gmock/gmock.h>
#include <random>

namespace comet {
namespace {

ParticleStore scattered(std::size_t count, double spread, unsigned seed) {
  std::mt19937 random(seed);
  std::uniform_real_distribution<float> place(static_cast<float>(-spread), static_cast<float>(spread));
  ParticleStore store(count);
  store.resize(count);
  for (std::size_t i = 0; i < count; ++i) {
    for (int axis = 0; axis < 3; ++axis)
      store.field(static_cast<ParticleStore::Field>(axis))[i] = place(random);
    for (int axis = 3; axis < 6; ++axis) store.field(static_cast<ParticleStore::Field>(axis))[i] = 0;
    store.ids()[i] = i;
  }
  return store;
}

std::vector<ParticleId> within(const NeighbourGrid& grid, const Vec3d& place, double radius) {
  std::vector<ParticleId> found;
  grid.forNear(place, [&](const NeighbourGrid::Particle& particle) {
    if (glm::length(Vec3d(particle.position) - place) <= radius) found.push_back(particle.id);
  });
  return found;
}

TEST(NeighbourGrid, FindsWhatTryingAllFinds) {
  std::mt19937 random(3);
  for (unsigned round = 0; round < 12; ++round) {
    const double spread = std::uniform_real_distribution<double>(0.5, 20)(random);
    const double radius = std::uniform_real_distribution<double>(0.1, 3)(random);
    ParticleStore store = scattered(300, spread, round);
    // One far away must not make the grid endless.
    if (round % 3 == 0) store.field(ParticleStore::PositionX)[7] = 1e7F;
    const NeighbourGrid grid({&store}, radius);
    EXPECT_EQ(grid.size(), 300U);
    for (std::size_t i = 0; i < 300; i += 7) {
      const Vec3d place = store.position(i) + Vec3d(0.3 * radius, 0, 0);
      std::vector<ParticleId> expected;
      for (std::size_t j = 0; j < 300; ++j)
        if (glm::length(store.position(j) - place) <= radius) expected.push_back(j);
      EXPECT_THAT(within(grid, place, radius), testing::UnorderedElementsAreArray(expected));
    }
  }
}

TEST(NeighbourGrid, SeesParticlesWhereTheyGo) {
  ParticleStore store = scattered(200, 2, 5);
  std::vector<Vec3d> later;
  for (std::size_t i = 0; i < store.size(); ++i) {
    const auto along = static_cast<float>(i % 7) - 3;
    store.field(ParticleStore::VelocityX)[i] = along;
    later.push_back(store.position(i) + Vec3d(0.5 * static_cast<double>(along), 0, 0));
  }
  const NeighbourGrid grid({&store}, 1, 0.5);
  const Vec3d place(1, 0.2, 0);
  std::vector<ParticleId> expected;
  for (std::size_t i = 0; i < later.size(); ++i)
    if (glm::length(later[i] - place) <= 1) expected.push_back(i);
  ASSERT_GT(expected.size(), 5U);
  EXPECT_THAT(within(grid, place, 1), testing::UnorderedElementsAreArray(expected));
}

TEST(NeighbourGrid, KnowsWhereItsEntriesComeFromAndPutsThoseThatAreNearTogether) {
  ParticleStore a = scattered(2000, 10, 1), b = scattered(500, 10, 2);
  for (std::size_t i = 0; i < b.size(); ++i) b.ids()[i] = particleId(7, i);
  const NeighbourGrid grid({&a, &b}, 1);
  EXPECT_EQ(grid.countOf(7), b.size());
  double inGrid = 0, inStore = 0;
  for (std::size_t i = 0; i < grid.size(); ++i) {
    const NeighbourGrid::Particle entry = grid.particle(i);
    const ParticleStore& store = emitterOfId(entry.id) == 7 ? b : a;
    const std::size_t place = grid.arrays().indices[i];
    EXPECT_EQ(store.ids()[place], entry.id);
    EXPECT_EQ(Vec3(store.position(place)), entry.position);
    if (i > 0) inGrid += glm::length(entry.position - grid.particle(i - 1).position);
    if (i > 0 && i < a.size()) inStore += glm::length(a.position(i) - a.position(i - 1));
  }
  EXPECT_LT(inGrid, 0.4 * inStore);
}

TEST(NeighbourGrid, OfNobodyFindsNobodyAndOfSeveralStoresAll) {
  EXPECT_TRUE(within(NeighbourGrid({}, 1), Vec3d(0.0), 1).empty());
  const ParticleStore a = scattered(40, 0.2, 1), b = scattered(60, 0.2, 2);
  EXPECT_EQ(within(NeighbourGrid({&a, &b}, 1), Vec3d(0.0), 1).size(), 100U);
}

}  // namespace
}  // namespace comet
