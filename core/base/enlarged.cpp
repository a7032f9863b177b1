#include "base/enlarged.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace comet {
namespace {

constexpr int kTaps = 4;

// Which pixels one of the larger picture is made of, and how much of each.
struct Taps {
  std::array<int, kTaps> at{};
  std::array<float, kTaps> weight{};
};

// With both parameters a third, as the authors recommend.
double mitchell(double x) {
  x = std::abs(x);
  if (x < 1) return (7 * x * x * x - 12 * x * x + 16.0 / 3) / 6;
  if (x < 2) return (-7.0 / 3 * x * x * x + 12 * x * x - 20 * x + 32.0 / 3) / 6;
  return 0;
}

std::vector<Taps> tapsOf(int from, int to) {
  std::vector<Taps> all(static_cast<std::size_t>(to));
  for (int i = 0; i < to; ++i) {
    const double place = (i + 0.5) * from / to - 0.5;
    const int first = static_cast<int>(std::floor(place)) - 1;
    Taps& taps = all[static_cast<std::size_t>(i)];
    for (int t = 0; t < kTaps; ++t) {
      const auto index = static_cast<std::size_t>(t);
      taps.at[index] = std::clamp(first + t, 0, from - 1);
      taps.weight[index] = static_cast<float>(mitchell(place - (first + t)));
    }
  }
  return all;
}

Vec4 mixed(const Taps& taps, const Vec4* pixels) {
  Vec4 sum(0.0F);
  for (std::size_t t = 0; t < kTaps; ++t) sum += pixels[taps.at[t]] * taps.weight[t];
  return sum;
}

}  // namespace

Picture enlarged(const Picture& picture, int width, int height) {
  Picture result = Picture::unset(width, height);
  const std::vector<Taps> across = tapsOf(picture.width(), width);
  const std::vector<Taps> down = tapsOf(picture.height(), height);
  constexpr std::size_t kRowsATask = 16;
  const auto rows = static_cast<std::size_t>(height);
  parallelFor((rows + kRowsATask - 1) / kRowsATask, [&](std::size_t task) {
    std::vector<Vec4> line(static_cast<std::size_t>(picture.width()));
    for (std::size_t y = task * kRowsATask; y < std::min(rows, (task + 1) * kRowsATask); ++y) {
      const Taps& taps = down[y];
      std::array<const Vec4*, kTaps> from{};
      for (std::size_t t = 0; t < kTaps; ++t) from[t] = picture.row(taps.at[t]);
      for (std::size_t x = 0; x < line.size(); ++x)
        line[x] = from[0][x] * taps.weight[0] + from[1][x] * taps.weight[1] + from[2][x] * taps.weight[2] +
                  from[3][x] * taps.weight[3];
      Vec4* out = result.row(static_cast<int>(y));
      for (std::size_t x = 0; x < across.size(); ++x) out[x] = mixed(across[x], line.data());
    }
  });
  return result;
}

}  // namespace comet
