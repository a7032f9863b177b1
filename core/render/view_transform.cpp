#include "render/view_transform.h"

#include "base/gradient.h"
#include "base/parallel.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace comet {
namespace {

// Fine enough that the steepest part of the curve, at black, moves less than one level from entry to entry.
constexpr int kEntries = 16384;

const std::array<std::uint8_t, kEntries + 1>& encodingTable() {
  static const auto table = [] {
    std::array<std::uint8_t, kEntries + 1> made{};
    for (int i = 0; i <= kEntries; ++i)
      made[static_cast<std::size_t>(i)] =
          static_cast<std::uint8_t>(std::lround(encodeSrgb(static_cast<double>(i) / kEntries) * 255));
    return made;
  }();
  return table;
}

class Encoder {
 public:
  // The pixel over the ground.
  std::uint32_t operator()(const Vec4& pixel, const Vec3& ground) const {
    const Vec3 light = Vec3(pixel) + ground * (1 - pixel.w);
    return 0xFF000000U | level(light.x) << 16 | level(light.y) << 8 | level(light.z);
  }

 private:
  std::uint32_t level(float linear) const {
    // Never negative, so adding a half rounds. NOLINTNEXTLINE(bugprone-incorrect-roundings)
    return table_[static_cast<std::size_t>(std::clamp(linear, 0.0F, 1.0F) * kEntries + 0.5F)];
  }

  const std::uint8_t* table_ = encodingTable().data();
};

template <typename Ground>
std::vector<std::uint32_t> transform(const Picture& picture, const Ground& groundAt) {
  std::vector<std::uint32_t> pixels(picture.pixels().size());
  const auto width = static_cast<std::size_t>(picture.width());
  const Encoder encode;
  parallelFor(static_cast<std::size_t>(picture.height()), [&](std::size_t y) {
    const Vec4* row = picture.row(static_cast<int>(y));
    for (std::size_t x = 0; x < width; ++x)
      pixels[y * width + x] = encode(row[x], groundAt(static_cast<int>(x), static_cast<int>(y)));
  });
  return pixels;
}

}  // namespace

std::vector<std::uint32_t> screenPixels(const Picture& picture, const Vec3& ground) {
  return transform(picture, [&ground](int, int) { return ground; });
}

std::vector<std::uint32_t> screenPixelsOverChecker(const Picture& picture, const Vec3& light,
                                                   const Vec3& dark, int square) {
  return transform(picture, [&](int x, int y) { return (x / square + y / square) % 2 == 0 ? light : dark; });
}

}  // namespace comet
