// What the particles of a flock sum up over those that they see.
#pragma once

#include "base/vec.h"
#include "particles/neighbour_grid.h"

namespace comet {

// How all of them look.
struct FlockSearch {
  float since = 0;  // seconds that the others have gone on since they were put into the grid
  float sight = 0;
  float separationRadius = 0, alignmentRadius = 0, cohesionRadius = 0;
};

// One that looks.
struct FlockLooker {
  Vec3 position{0.0F};
  Vec3 ahead{0.0F};  // of length one; zero for one that looks all round
  float cosineOfSight = -2;
  std::uint32_t mark = 0;  // NeighbourGrid::markOf its own identity
};

struct FlockSums {
  Vec3 apart{0.0F};     // away from those nearer than the separation radius, the nearer the longer
  Vec3 velocity{0.0F};  // of those within the alignment radius
  Vec3 middle{0.0F};    // the ways to those within the cohesion radius
  float seen = 0, aligned = 0, gathered = 0;  // how many each is made of
};

// For each of `count`, over all of the grid that are near. Quick if those that follow one another are near
// each other; what each sums up does not depend on the others, and is the same to the bit on any vector unit.
void flockSums(const NeighbourGrid& grid, const FlockSearch& search, const FlockLooker* lookers,
               std::size_t count, FlockSums* sums);

}  // namespace comet
