// Loops over the rows of a grid, and over its numbers whatever their places.
#pragma once

#include "base/grid.h"
#include "base/parallel.h"

#include <algorithm>
#include <vector>

namespace comet {

// Calls act(y, z) for each row along x, from all threads.
template <typename Act>
void forRows(const GridLayout& layout, const Act& act) {
  parallelFor(layout.counts[1] * layout.counts[2],
              [&](std::size_t row) { act(row % layout.counts[1], row / layout.counts[1]); });
}

// Calls act(y, z, room) for each row along x, from all threads; `room` is what a thread has for its rows.
template <typename Room, typename Act>
void forRowsWith(const GridLayout& layout, const Act& act) {
  runRanges(layout.counts[1] * layout.counts[2], Shares::OnDemand, [&](std::size_t begin, std::size_t end) {
    Room room;
    for (std::size_t row = begin; row < end; ++row) act(row % layout.counts[1], row / layout.counts[1], room);
  });
}

// So many numbers are a block: few enough for several threads, and enough for each.
constexpr std::size_t kNumbersABlock = 8192;

inline std::size_t blockCount(std::size_t numbers) { return (numbers + kNumbersABlock - 1) / kNumbersABlock; }

// Calls act(begin, end) for each block of so many numbers, from all threads.
template <typename Act>
void forBlocks(std::size_t numbers, const Act& act) {
  parallelForEqual(blockCount(numbers), [&](std::size_t block) {
    act(block * kNumbersABlock, std::min((block + 1) * kNumbersABlock, numbers));
  });
}

// The sum of of(begin, end), added in the blocks' order.
template <typename Of>
double sumOfBlocks(std::size_t numbers, const Of& of) {
  return parallelSum(blockCount(numbers), [&](std::size_t block) {
    return static_cast<double>(of(block * kNumbersABlock, std::min((block + 1) * kNumbersABlock, numbers)));
  });
}

// The largest of of(begin, end); 0 if there is none.
template <typename Of>
double largestOfBlocks(std::size_t numbers, const Of& of) {
  std::vector<float> max(blockCount(numbers) + 1, 0.0F);
  forBlocks(numbers,
            [&](std::size_t begin, std::size_t end) { max[begin / kNumbersABlock] = of(begin, end); });
  return static_cast<double>(*std::max_element(max.begin(), max.end()));
}

}  // namespace comet
