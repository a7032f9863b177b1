// What is left of a motion that presses against surfaces.
#pragma once

#include "base/vec.h"

#include <array>
#include <cstddef>

namespace comet {

struct Motion {
  Vec3d velocity{0.0};      // units/s
  Vec3d acceleration{0.0};  // units/s²
};

// A surface on which something lies or along which it slides.
struct Support {
  Vec3d normal{0, 1, 0};  // away from it, of length one
  double friction = 0;    // Coulomb's coefficient
};

// As many as say something: three that differ hold a point still.
constexpr std::size_t kMaxSupports = 3;

struct SupportedMotion {
  Motion motion;        // along all that bear, with friction not yet counted
  double friction = 0;  // what it may take of the acceleration at most, units/s²
  double load = 0;      // with which it presses against them, units/s²
};

// One support: the wall or the ground. Two: the groove between them. Three: a corner. Each pushes and none
// pulls: where one would have to, the others alone bear. `count` is at least one; of a single one it is known
// that it bears.
SupportedMotion supportedMotion(const std::array<Support, kMaxSupports>& supports, std::size_t count,
                                const Motion& free);

}  // namespace comet
