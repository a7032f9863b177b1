// Loops over the rows of a grid.
#pragma once

#include "base/grid.h"
#include "base/parallel.h"

namespace comet {

// Calls act(y, z) for each row along x, from all threads.
template <typename Act>
void forRows(const GridLayout& layout, const Act& act) {
  parallelFor(layout.counts[1] * layout.counts[2],
              [&](std::size_t row) { act(row % layout.counts[1], row / layout.counts[1]); });
}

}  // namespace comet
