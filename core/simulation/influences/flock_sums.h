// What a particle of a flock sums up over those that it sees.
#pragma once

#include "base/vec.h"
#include "particles/neighbour_grid.h"

namespace comet {

struct FlockQuery {
  Vec3 position{0.0F};
  Vec3 ahead{0.0F};        // of length one; zero for one that looks all round
  std::uint32_t mark = 0;  // NeighbourGrid::markOf its own identity
  float since = 0;         // seconds that the others have gone on since they were put into the grid
  float sight = 0, cosineOfSight = -2;
  float separationRadius = 0, alignmentRadius = 0, cohesionRadius = 0;
};

struct FlockSums {
  Vec3 apart{0.0F};     // away from those nearer than the separation radius, the nearer the longer
  Vec3 velocity{0.0F};  // of those within the alignment radius
  Vec3 middle{0.0F};    // the ways to those within the cohesion radius
  float seen = 0, aligned = 0, gathered = 0;  // how many each is made of
};

// Over all of the grid that are near; the same bits on any vector unit.
FlockSums flockSums(const NeighbourGrid& grid, const FlockQuery& query);

}  // namespace comet
