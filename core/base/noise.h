// Smooth noise: a number for each place, changing gently from place to place.
#pragma once

#include "base/vec.h"

#include <cstdint>

namespace comet {

// Gradient noise on a unit lattice (Perlin, "Improving Noise", 2002) with hashed gradients. Zero at lattice
// points, about -1 to 1 between them; `pattern` selects one of many. Twice continuously differentiable. Pure;
// any thread.
double smoothNoise(const Vec3d& place, std::uint64_t pattern);

// As smoothNoise, and the same again after `periods` (whole numbers from 1) along each axis.
double repeatingNoise(const Vec3d& place, const Vec3d& periods, std::uint64_t pattern);

// Three independent ones.
Vec3d smoothNoise3(const Vec3d& place, std::uint64_t pattern);

}  // namespace comet
