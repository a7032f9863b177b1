#include "bake/light_hue.h"

#include <algorithm>

namespace comet {

std::optional<Vec3d> hueOf(const Picture& picture) {
  Vec3d sum(0.0);
  for (const Vec4& pixel : picture.pixels()) sum += Vec3d(Vec3(pixel));
  const double most = std::max({sum.x, sum.y, sum.z});
  if (!(most > 0)) return std::nullopt;
  return sum / most;
}

}  // namespace comet
