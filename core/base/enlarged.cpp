#include "base/enlarged.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

// With both parameters a third, as the authors recommend.
double mitchell(double x) {
  x = std::abs(x);
  if (x < 1) return (7 * x * x * x - 12 * x * x + 16.0 / 3) / 6;
  if (x < 2) return (-7.0 / 3 * x * x * x + 12 * x * x - 20 * x + 32.0 / 3) / 6;
  return 0;
}

}  // namespace

EnlargedRows::EnlargedRows(const Picture& picture, int width, int height)
    : picture_(picture), across_(tapsOf(picture.width(), width)), down_(tapsOf(picture.height(), height)) {}

std::vector<EnlargedRows::Taps> EnlargedRows::tapsOf(int from, int to) {
  std::vector<Taps> all(static_cast<std::size_t>(to));
  for (int i = 0; i < to; ++i) {
    const double position = (i + 0.5) * from / to - 0.5;
    const int first = static_cast<int>(std::floor(position)) - 1;
    Taps& taps = all[static_cast<std::size_t>(i)];
    for (int t = 0; t < kTaps; ++t) {
      const auto index = static_cast<std::size_t>(t);
      taps.at[index] = std::clamp(first + t, 0, from - 1);
      taps.weight[index] = static_cast<float>(mitchell(position - (first + t)));
    }
  }
  return all;
}

Vec4 EnlargedRows::mixed(const Taps& taps, const Vec4* pixels) {
  Vec4 sum(0.0F);
  for (std::size_t t = 0; t < kTaps; ++t) sum += pixels[taps.at[t]] * taps.weight[t];
  return sum;
}

void EnlargedRows::row(int y, std::vector<Vec4>& line, Vec4* out) const {
  line.resize(static_cast<std::size_t>(picture_.width()));
  const Taps& taps = down_[static_cast<std::size_t>(y)];
  std::array<const Vec4*, kTaps> from{};
  for (std::size_t t = 0; t < kTaps; ++t) from[t] = picture_.row(taps.at[t]);
  for (std::size_t x = 0; x < line.size(); ++x)
    line[x] = from[0][x] * taps.weight[0] + from[1][x] * taps.weight[1] + from[2][x] * taps.weight[2] +
              from[3][x] * taps.weight[3];
  for (std::size_t x = 0; x < across_.size(); ++x) out[x] = mixed(across_[x], line.data());
}

}  // namespace comet
