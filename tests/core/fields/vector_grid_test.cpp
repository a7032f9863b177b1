#include "fields/vector_grid.h"

#include <glm/geometric.hpp>
#include <random>

namespace comet {
namespace {

// The vector at a cell's middle is a linear function of the place, which trilinear reading brings back
// exactly.
Vec3d linear(const Vec3d& place) {
  return {1 + 2 * place.x - place.y, 3 * place.z, place.x + place.y + place.z};
}

VectorGrid linearGrid(const VectorGrid::Counts& counts) {
  VectorGrid grid(counts);
  for (int z = 0; z < counts[2]; ++z)
    for (int y = 0; y < counts[1]; ++y)
      for (int x = 0; x < counts[0]; ++x) grid.at(x, y, z) = Vec3(linear(grid.middleOf(x, y, z)));
  return grid;
}

TEST(VectorGrid, IsTrilinearBetweenTheMiddlesOfItsCells) {
  const VectorGrid grid = linearGrid({5, 8, 3});
  std::mt19937 random(7);
  std::uniform_real_distribution<double> fraction(0, 1);
  for (int i = 0; i < 1000; ++i) {
    // Between the first and the last middle of each axis.
    Vec3d place;
    for (int axis = 0; axis < 3; ++axis) {
      const double half = 0.5 / grid.counts()[axis];
      place[axis] = half + fraction(random) * (1 - 2 * half);
    }
    const Vec3d error = grid.sample(place, Beyond::Nothing) - linear(place);
    ASSERT_LT(glm::length(error), 1e-6);
  }
  EXPECT_EQ(grid.sample(grid.middleOf(2, 3, 1), Beyond::Edge), Vec3d(grid.at(2, 3, 1)));
}

TEST(VectorGrid, BeyondItsBoxIsAsWanted) {
  const VectorGrid grid = linearGrid({4, 4, 4});
  const Vec3d inside(0.3, 0.6, 0.7), right(1.3, 0.6, 0.7);
  EXPECT_EQ(grid.sample(right, Beyond::Nothing), Vec3d(0.0));
  EXPECT_EQ(grid.sample(right, Beyond::Edge), grid.sample({1, 0.6, 0.7}, Beyond::Edge));
  EXPECT_NEAR(glm::length(grid.sample(right, Beyond::Repeat) - grid.sample(inside, Beyond::Repeat)), 0, 1e-9);
  EXPECT_NEAR(
      glm::length(grid.sample(inside - Vec3d(7, 3, 2), Beyond::Repeat) - grid.sample(inside, Beyond::Repeat)),
      0, 1e-9);
  // At the seam it runs from the last cell to the first.
  const Vec3d seam = 0.5 * (Vec3d(grid.at(3, 1, 1)) + Vec3d(grid.at(0, 1, 1)));
  EXPECT_NEAR(glm::length(grid.sample({1, 0.375, 0.375}, Beyond::Repeat) - seam), 0, 1e-6);
}

TEST(VectorGrid, OneCellAlongAnAxisIsTheSameAllAlong) {
  const VectorGrid flat = linearGrid({4, 4, 1});
  EXPECT_EQ(flat.sample({0.4, 0.4, 0.01}, Beyond::Nothing), flat.sample({0.4, 0.4, 0.99}, Beyond::Nothing));
  EXPECT_EQ(VectorGrid().sample({0.5, 0.5, 0.5}, Beyond::Edge), Vec3d(0.0));
}

TEST(VectorGrid, FarAndImpossiblePlacesAreHarmless) {
  const VectorGrid grid = linearGrid({4, 4, 4});
  for (const double far : {1e300, -1e300, std::nan(""), static_cast<double>(INFINITY)})
    for (const Beyond beyond : {Beyond::Nothing, Beyond::Edge, Beyond::Repeat}) {
      const Vec3d sample = grid.sample({far, 0.5, 0.5}, beyond);
      EXPECT_TRUE(std::isfinite(sample.x + sample.y + sample.z)) << far;
    }
}

}  // namespace
}  // namespace comet
