#include "bake/warp.h"

#include "base/parallel.h"

namespace comet {

Picture warped(const Picture& from, const Picture& motion, double fraction) {
  Picture result(from.width(), from.height());
  parallelFor(static_cast<std::size_t>(from.height()), [&](std::size_t row) {
    const int y = static_cast<int>(row);
    for (int x = 0; x < from.width(); ++x) {
      const Vec4& step = motion.at(x, y);
      result.at(x, y) = sampled(from, x + 0.5 - step.x * fraction, y + 0.5 - step.y * fraction);
    }
  });
  return result;
}

}  // namespace comet
