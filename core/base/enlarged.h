// Pictures with more pixels than they were drawn with.
#pragma once

#include "base/picture.h"

#include <array>
#include <vector>

namespace comet {

// A picture stretched to a larger size, row by row and smoothly: by the cubic filter of Mitchell and
// Netravali (1988), which shows neither blocks nor rings. What is the same all over stays so, up to the
// edges. All functions may be called from any thread.
class EnlargedRows {
 public:
  // The picture must outlive this.
  EnlargedRows(const Picture& picture, int width, int height);

  // Writes one row of the larger picture. `line` is room that may be used again for the next row.
  void row(int y, std::vector<Vec4>& line, Vec4* out) const;

 private:
  static constexpr int kTaps = 4;

  // Which pixels one of the larger picture is made of, and how much of each.
  struct Taps {
    std::array<int, kTaps> at{};
    std::array<float, kTaps> weight{};
  };

  static std::vector<Taps> tapsOf(int from, int to);
  static Vec4 mixed(const Taps& taps, const Vec4* pixels);

  const Picture& picture_;
  std::vector<Taps> across_, down_;
};

}  // namespace comet
