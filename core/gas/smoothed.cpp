#include "gas/smoothed.h"

#include "gas/rows.h"

#include <utility>

namespace comet {
namespace {

constexpr float kOwn = 2.0F / 3, kNext = 1.0F / 6;

}  // namespace

GasChannel smoothed(const GridLayout& layout, GasChannel channel) {
  GasChannel result(channel.size());
  for (std::size_t axis = 0; axis < 3; ++axis) {
    if (layout.counts[axis] < 2) continue;
    const std::size_t step = stepAlong(layout, axis), last = layout.counts[axis] - 1;
    forRows(layout, [&](std::size_t y, std::size_t z) {
      const std::size_t start = layout.index(0, y, z), length = layout.counts[0];
      const float* from = channel.data() + start;
      float* to = result.data() + start;
      if (axis == 0) {
        for (std::size_t x = 0; x < length; ++x)
          to[x] = kOwn * from[x] + kNext * (from[x > 0 ? x - 1 : 0] + from[x < last ? x + 1 : last]);
        return;
      }
      const std::size_t at = axis == 1 ? y : z;
      const float *below = at > 0 ? from - step : from, *above = at < last ? from + step : from;
      for (std::size_t x = 0; x < length; ++x) to[x] = kOwn * from[x] + kNext * (below[x] + above[x]);
    });
    std::swap(channel, result);
  }
  return channel;
}

}  // namespace comet
