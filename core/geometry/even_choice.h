// Some out of many points, such that they lie far apart from each other.
#pragma once

#include "base/progress.h"
#include "base/vec.h"

#include <cstddef>
#include <vector>

namespace comet {

// How many points should be there for each that is chosen.
inline constexpr std::size_t kCandidatesEach = 4;

// The indices of `count` of the points, or of all if there are no more, ascending. Points that are spread
// over a line, a surface or a volume give ones that are spread evenly over it (Yuksel, "Sample Elimination
// for Generating Poisson Disk Sample Sets", 2015). The same for the same points. Throws Error(Cancelled).
std::vector<std::size_t> chooseEvenly(const std::vector<Vec3d>& points, std::size_t count,
                                      const Progress& progress = {});

}  // namespace comet
