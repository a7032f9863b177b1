// Things put one after the other by the cell that each lies in.
#pragma once

#include "base/untouched.h"
#include "base/vec.h"

#include <array>
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <numeric>
#include <vector>

namespace comet {

// How many cells of a size, units along each axis, lie over an extent. Where so many things are spread too
// far, cells grow first: more than a few for each are not worth their memory.
inline std::array<std::size_t, 3> cellsOver(const Vec3d& extent, std::size_t things, Vec3d& cell) {
  constexpr double kMaxCellsEach = 4, kFewestCells = 4096;
  const double most = kFewestCells + kMaxCellsEach * static_cast<double>(things);
  const auto along = [&](int axis) { return std::floor(extent[axis] / cell[axis]) + 1; };
  while (along(0) * along(1) * along(2) > most) cell *= 1.25;
  return {static_cast<std::size_t>(along(0)), static_cast<std::size_t>(along(1)),
          static_cast<std::size_t>(along(2))};
}

struct CellSort {
  std::vector<std::uint32_t> starts;     // of each cell's in `order`, and the end of the last
  UntouchedVector<std::uint32_t> order;  // which of the things; those of a cell in the order that they had
};

// `cells` has the number of a cell, below `count`, for each thing.
inline CellSort sortedByCell(const UntouchedVector<std::uint32_t>& cells, std::size_t count) {
  CellSort sort;
  sort.starts.assign(count + 1, 0);
  for (const std::uint32_t cell : cells) ++sort.starts[cell + 1];
  std::partial_sum(sort.starts.begin(), sort.starts.end(), sort.starts.begin());
  sort.order = UntouchedVector<std::uint32_t>(cells.size());
  std::vector<std::uint32_t> next(sort.starts.begin(), sort.starts.end() - 1);
  for (std::size_t i = 0; i < cells.size(); ++i) sort.order[next[cells[i]]++] = static_cast<std::uint32_t>(i);
  return sort;
}

}  // namespace comet
