// Who goes where: each of some points to a place of its own, such that the ways are short in all.
#pragma once

#include "base/progress.h"
#include "base/vec.h"

#include <cstddef>
#include <limits>
#include <vector>

namespace comet {

struct Assignment {
  static constexpr std::size_t kNone = std::numeric_limits<std::size_t>::max();

  std::vector<std::size_t> places;  // of each point; kNone where there are more points than places
  double total = 0;                 // of the ways
  double least = 0;                 // no assignment of so many is shorter in all
};

// How much longer than the shortest an assignment may be in all, as a fraction of it, where it is not exact.
inline constexpr double kAssignmentSlack = 0.1;

// As many pairs as there are points or places, whichever are fewer. Exact where the product of the fewer,
// squared, and the more is at most 3e7, such as 300 points and 300 places; else no more than kAssignmentSlack
// too long, but where places lie so close to each other that it would take too long to tell them apart
// (`least` says how good it is). The same for the same points in the same order. Throws Error(Cancelled).
//
// Exact by shortest augmenting paths (Jonker and Volgenant, "A shortest augmenting path algorithm for dense
// and sparse linear assignment problems", 1987); else by an auction (Bertsekas, "The auction algorithm",
// 1988), whose bids are found in a tree of places, and whose prices tell how short ways could be at best.
Assignment assignPlaces(const std::vector<Vec3d>& points, const std::vector<Vec3d>& places,
                        const Progress& progress = {});

}  // namespace comet
