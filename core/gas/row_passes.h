// Several passes over the rows of a level in one go, so that what they need is near at hand: a pass follows
// the one before it by a layer (wavefront blocking; Wellein, Hager, Zeiser, Wittmann and Fehske 2009).
#pragma once

#include "gas/pressure_level.h"

#include <functional>

namespace comet {

// What a pass does with a row of voxels along x; `room` is for so many numbers as are asked for, which are 0
// when a thread begins.
using RowPass = std::function<void(std::size_t pass, std::size_t y, std::size_t z, float* room)>;

// Calls act(pass, y, z, room) for each row and each of so many passes, from several threads if there are many
// rows. The result is that of one pass over the whole level after the other if a pass writes at its own row
// alone, and beside that row reads only what the pass before it wrote and nothing that it writes itself. The
// first pass reads nothing beside its row.
void runRowPasses(const PressureLevel& level, std::size_t passes, std::size_t numbers, const RowPass& act);

}  // namespace comet
