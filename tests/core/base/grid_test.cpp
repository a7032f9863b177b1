#include "base/grid.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>
#include <set>

namespace comet {
namespace {

TEST(GridLayout, GivesEachNodeAnIndexOfItsOwn) {
  const GridLayout layout{{3, 4, 5}};
  std::set<std::size_t> indices;
  for (std::size_t z = 0; z < 5; ++z)
    for (std::size_t y = 0; y < 4; ++y)
      for (std::size_t x = 0; x < 3; ++x) {
        const std::size_t index = layout.index(x, y, z);
        indices.insert(index);
        if (x > 0) {
          EXPECT_EQ(index, layout.index(x - 1, y, z) + 1);
        }
        if (y > 0) {
          EXPECT_EQ(index, layout.index(x, y - 1, z) + layout.row());
        }
        if (z > 0) {
          EXPECT_EQ(index, layout.index(x, y, z - 1) + layout.plane());
        }
      }
  EXPECT_EQ(indices.size(), layout.size());
  EXPECT_EQ(*indices.rbegin() + 1, layout.size());
}

// Products of linear functions of each axis are what it must give exactly.
RC_GTEST_PROP(Trilinear, RestoresWhatIsLinearAlongEachAxis, (int seed)) {
  const auto coefficient = [seed](int i) { return ((seed % 1000 + 31 * i) % 17 - 8) / 4.0; };
  const auto value = [&](double x, double y, double z) {
    return (coefficient(0) + coefficient(1) * x) * (coefficient(2) + coefficient(3) * y) *
           (coefficient(4) + coefficient(5) * z);
  };
  const auto corner = [&](int which) { return value(which & 1, which >> 1 & 1, which >> 2 & 1); };
  const Vec3d t =
      Vec3d(*rc::gen::inRange(0, 101), *rc::gen::inRange(0, 101), *rc::gen::inRange(0, 101)) / 100.0;
  RC_ASSERT(std::abs(trilinear(corner, t) - value(t.x, t.y, t.z)) < 1e-9);
}

}  // namespace
}  // namespace comet
