// Cells between cells: what a game shows that blends along motion vectors.
#pragma once

#include "base/picture.h"

namespace comet {

// `from` moved along its motion by `share` of the way to the next cell: each pixel is what lies so far behind
// it. `motion` holds pixels to the right and down. What would come from beyond the edge is nothing.
Picture warped(const Picture& from, const Picture& motion, double share);

// The picture at `share` of the way from a cell to the next, 0 to 1: without motion both laid over each
// other, with it each moved to where it would be then. `fromMotion` and `toMotion` are the cells' own; both
// may be empty for none.
Picture blendedCells(const Picture& from, const Picture& to, const Picture& fromMotion,
                     const Picture& toMotion, double share);

}  // namespace comet
