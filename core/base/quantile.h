// Order statistics.
#pragma once

#include <algorithm>
#include <cstddef>
#include <vector>

namespace comet {

// The value below which `fraction` of the others lie, 0 to 1; `values` has at least one.
template <typename Value>
Value quantile(std::vector<Value> values, double fraction) {
  const auto at =
      values.begin() + static_cast<std::ptrdiff_t>(fraction * static_cast<double>(values.size() - 1));
  std::nth_element(values.begin(), at, values.end());
  return *at;
}

}  // namespace comet
