// Things put one after the other by the cell that each lies in.
#pragma once

#include "base/untouched.h"

#include <cstddef>
#include <cstdint>
#include <numeric>
#include <vector>

namespace comet {

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
