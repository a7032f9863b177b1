#include "base/enlarged.h"

#include "base/parallel.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstddef>

namespace comet {
namespace {

constexpr int kTaps = 4;
constexpr std::size_t kChannels = 4;

// Weights are whole numbers of 1 / 2^kWeightBits; sums across keep kKeptBits of them.
constexpr int kWeightBits = 14, kKeptBits = 6;

// Products of these two are what the oldest vector instructions multiply fastest.
using Channel = std::int16_t;
using Weight = std::int16_t;

// Which pixels one of the larger picture is made of, and how much of each.
struct Taps {
  std::array<int, kTaps> at{};
  std::array<Weight, kTaps> weight{};
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
    const double position = (i + 0.5) * from / to - 0.5;
    const int first = static_cast<int>(std::floor(position)) - 1;
    Taps& taps = all[static_cast<std::size_t>(i)];
    int left = 1 << kWeightBits;
    for (int t = 0; t < kTaps; ++t) {
      const auto index = static_cast<std::size_t>(t);
      taps.at[index] = std::clamp(first + t, 0, from - 1);
      taps.weight[index] =
          static_cast<Weight>(std::lround(std::ldexp(mitchell(position - (first + t)), kWeightBits)));
      left -= taps.weight[index];
    }
    // All in all exactly one.
    taps.weight[1] = static_cast<Weight>(taps.weight[1] + left);
  }
  return all;
}

// One row, stretched across. Each is needed by several rows of the result. `wide` is room for the row.
void stretchAcross(const std::uint8_t* row, const std::vector<Taps>& across, std::vector<Channel>& wide,
                   Channel* out) {
  constexpr int kShift = kWeightBits - kKeptBits;
  std::copy_n(row, wide.size(), wide.begin());
  for (const Taps& taps : across) {
    std::array<std::int32_t, kChannels> sum{};
    for (std::size_t t = 0; t < kTaps; ++t) {
      const Channel* pixel = wide.data() + kChannels * static_cast<std::size_t>(taps.at[t]);
      for (std::size_t c = 0; c < kChannels; ++c) sum[c] += taps.weight[t] * pixel[c];
    }
    for (std::size_t c = 0; c < kChannels; ++c) out[c] = static_cast<Channel>(sum[c] >> kShift);
    out += kChannels;
  }
}

void stretchDown(const std::array<const Channel*, kTaps>& rows, const Taps& taps, std::size_t count,
                 std::uint8_t* out) {
  constexpr int kShift = kWeightBits + kKeptBits;
  const auto [a, b, c, d] = rows;
  const auto [wa, wb, wc, wd] = taps.weight;
  for (std::size_t i = 0; i < count; ++i) {
    const std::int32_t sum = wa * a[i] + wb * b[i] + wc * c[i] + wd * d[i] + (1 << (kShift - 1));
    out[i] = static_cast<std::uint8_t>(std::clamp(sum >> kShift, 0, 255));
  }
}

}  // namespace

std::vector<std::uint32_t> enlarged(const std::vector<std::uint32_t>& pixels, int width, int height,
                                    int toWidth, int toHeight) {
  const std::vector<Taps> across = tapsOf(width, toWidth), down = tapsOf(height, toHeight);
  const auto wide = static_cast<std::size_t>(toWidth), high = static_cast<std::size_t>(toHeight);
  std::vector<std::uint32_t> result(wide * high);
  const auto* from = reinterpret_cast<const std::uint8_t*>(pixels.data());
  auto* to = reinterpret_cast<std::uint8_t*>(result.data());
  constexpr std::size_t kRowsATask = 64;
  parallelFor((high + kRowsATask - 1) / kRowsATask, [&](std::size_t task) {
    const std::size_t begin = task * kRowsATask, end = std::min(high, begin + kRowsATask);
    const int first = down[begin].at.front(), last = down[end - 1].at.back();
    const std::size_t count = kChannels * wide;
    std::vector<Channel> rows(count * static_cast<std::size_t>(last - first + 1));
    std::vector<Channel> wideRow(kChannels * static_cast<std::size_t>(width));
    const auto rowOf = [&](int y) { return rows.data() + count * static_cast<std::size_t>(y - first); };
    for (int y = first; y <= last; ++y)
      stretchAcross(from + kChannels * static_cast<std::size_t>(y) * static_cast<std::size_t>(width), across,
                    wideRow, rowOf(y));
    for (std::size_t y = begin; y < end; ++y) {
      const auto& at = down[y].at;
      stretchDown({rowOf(at[0]), rowOf(at[1]), rowOf(at[2]), rowOf(at[3])}, down[y], count, to + y * count);
    }
  });
  return result;
}

}  // namespace comet
