// Functions of a fraction as tables, for what is asked many times.
#pragma once

#include <algorithm>
#include <array>

namespace comet {

// A function of 0 to 1 as a table, read with straight lines between its entries.
template <typename Sample>
class UnitTable {
 public:
  static constexpr int kSteps = 256;

  template <typename Function>
  void fill(const Function& function) {
    for (int i = 0; i <= kSteps; ++i) samples_[i] = function(static_cast<double>(i) / kSteps);
  }
  Sample at(double x) const {
    const double position = std::clamp(x, 0.0, 1.0) * kSteps;
    const int below = std::min(static_cast<int>(position), kSteps - 1);
    return samples_[below] + (samples_[below + 1] - samples_[below]) * static_cast<float>(position - below);
  }

 private:
  std::array<Sample, kSteps + 1> samples_{};
};

}  // namespace comet
