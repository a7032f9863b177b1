// Which particles may meet a deflector in a substep: a quick answer for all of a chunk, before anything is
// followed exactly.
#pragma once

#include "simulation/deflectors/deflector.h"

namespace comet {

// The middles of the ways that particles go, and how far each may be from there at most, units.
struct Ranges {
  std::array<const float*, 3> middle;
  const float* range;
};

using DeflectorMasks = std::array<std::uint32_t, kChunkSize>;

// Sets `bit` for every particle that may come as near to the deflector as `clearance`, during a substep whose
// middle is this fraction of the frame's step and that lasts `seconds`. Some that do not are marked as
// well, none that does is left out.
void markNear(const Deflector& deflector, double clearance, double middleFraction, double seconds,
              const Ranges& ranges, std::size_t count, std::uint32_t bit, DeflectorMasks& masks);

}  // namespace comet
