#include "bake/warp.h"

#include "base/parallel.h"

#include <cmath>

namespace comet {
namespace {

Vec4 sampled(const Picture& picture, float x, float y) {
  const float left = std::floor(x), top = std::floor(y);
  const float tx = x - left, ty = y - top;
  const auto at = [&](int i, int j) {
    const bool isInside = i >= 0 && j >= 0 && i < picture.width() && j < picture.height();
    return isInside ? picture.at(i, j) : Vec4(0.0F);
  };
  const int i = static_cast<int>(left), j = static_cast<int>(top);
  const Vec4 upper = at(i, j) * (1 - tx) + at(i + 1, j) * tx;
  const Vec4 lower = at(i, j + 1) * (1 - tx) + at(i + 1, j + 1) * tx;
  return upper * (1 - ty) + lower * ty;
}

}  // namespace

Picture warped(const Picture& from, const Picture& motion, double share) {
  Picture result(from.width(), from.height());
  const auto part = static_cast<float>(share);
  parallelFor(static_cast<std::size_t>(from.height()), [&](std::size_t row) {
    const int y = static_cast<int>(row);
    for (int x = 0; x < from.width(); ++x) {
      const Vec4& step = motion.at(x, y);
      result.at(x, y) =
          sampled(from, static_cast<float>(x) - step.x * part, static_cast<float>(y) - step.y * part);
    }
  });
  return result;
}

Picture blendedCells(const Picture& from, const Picture& to, const Picture& fromMotion,
                     const Picture& toMotion, double share) {
  const bool moves = !fromMotion.empty();
  Picture result = moves ? warped(from, fromMotion, share) : from;
  const Picture other = moves ? warped(to, toMotion, share - 1) : to;
  const auto weight = static_cast<float>(share);
  for (int y = 0; y < result.height(); ++y)
    for (int x = 0; x < result.width(); ++x)
      result.at(x, y) = result.at(x, y) * (1 - weight) + other.at(x, y) * weight;
  return result;
}

}  // namespace comet
