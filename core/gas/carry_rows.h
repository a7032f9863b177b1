// The inner loops of carrying gas, on whole vectors of the machine. Results are the same on any of them.
#pragma once

#include "base/grid.h"

#include <array>
#include <cstddef>
#include <cstdint>

namespace comet {

// Rows are read, and written, up to so many numbers beyond their ends.
constexpr std::size_t kRowSlack = 16;

// The nodes of a grid, to find points among them.
struct CarryNodes {
  explicit CarryNodes(const GridLayout& layout);

  std::array<float, 3> last{};            // the number of the last node along each axis
  std::array<std::int32_t, 3> lastLow{};  // of the last one that has another behind it
  std::array<std::int32_t, 3> step{};     // from a node to the next one
  std::array<std::size_t, 3> next{};      // the same, and 0 if there is only one
};

// The points that the nodes of a row come from or go to: each is as far from its node as two rows of
// displacements say on average.
struct CarryRow {
  std::array<const float*, 3> one{}, other{};
  float y = 0, z = 0;  // of the row's nodes; the first has x = 0
  std::size_t count = 0;
};

// Beyond these points there is clear air.
struct CarryLimits {
  std::array<float, 3> least{}, most{};
};

// A channel at the points, and the least and the most of the nodes around each. All are 0 beyond the limits.
void carryRow(const CarryNodes& nodes, const CarryRow& row, const CarryLimits& limits, const float* channel,
              float* carried, float* least, float* most);

// What was carried there, corrected by half of what comes back wrong: `once` is the whole channel after it
// was carried, `before` and `carried` are the row's numbers of the channel before and after.
void correctRow(const CarryNodes& nodes, const CarryRow& row, const float* once, const float* before,
                const float* carried, const float* least, const float* most, float* result);

// A flow of three components at the points, times a factor.
void flowRow(const CarryNodes& nodes, const CarryRow& row, const std::array<const float*, 3>& flow,
             float factor, const std::array<float*, 3>& result);

}  // namespace comet
