// The inner loops of carrying gas, on whole vectors of the machine. Results are the same on any of them.
#pragma once

#include "gas/padded_rows.h"

#include <array>
#include <cstddef>
#include <cstdint>
#include <span>

namespace comet {

// The nodes of a grid, to find points among them. Along x those beyond the rows' ends count.
struct CarryNodes {
  explicit CarryNodes(const PaddedRows& rows);

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
  std::array<float, 3> min{}, max{};
};

// What is carried together, as it has the same points.
struct CarryChannel {
  const float* before = nullptr;  // of all nodes
  const float* once = nullptr;    // the same after it was carried
  // Rows.
  float* carried = nullptr;
  float *min = nullptr, *max = nullptr;  // of the nodes around each point
  const float* was = nullptr;
  float* result = nullptr;
};

// Channels at the points (`carried`), and the least and the most of the nodes around each. All are 0 beyond
// the limits.
void carryRow(const CarryNodes& nodes, const CarryRow& row, const CarryLimits& limits,
              std::span<const CarryChannel> channels);

// What was carried there, corrected by half of what comes back wrong (`result`).
void correctRow(const CarryNodes& nodes, const CarryRow& row, std::span<const CarryChannel> channels);

// A flow of three components at the points, times a factor.
void flowRow(const CarryNodes& nodes, const CarryRow& row, const std::array<const float*, 3>& flow,
             float factor, const std::array<float*, 3>& result);

}  // namespace comet
