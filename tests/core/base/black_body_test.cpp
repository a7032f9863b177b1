#include "base/black_body.h"

#include <gtest/gtest.h>

namespace comet {
namespace {

// Chromaticities of the Planckian locus (CIE 1931, 2° observer), as tabulated.
TEST(BlackBody, LiesOnThePlanckianLocus) {
  struct Known {
    double kelvin, x, y;
  };
  for (const Known& known :
       {Known{1000, 0.6528, 0.3444}, Known{1500, 0.5857, 0.3931}, Known{2000, 0.5267, 0.4133},
        Known{2856, 0.4476, 0.4074}, Known{4000, 0.3805, 0.3768}, Known{6500, 0.3135, 0.3237},
        Known{10000, 0.2807, 0.2884}}) {
    const Vec3d xyz = blackBodyXyz(known.kelvin);
    const double sum = xyz.x + xyz.y + xyz.z;
    EXPECT_NEAR(xyz.x / sum, known.x, 0.001) << known.kelvin;
    EXPECT_NEAR(xyz.y / sum, known.y, 0.001) << known.kelvin;
  }
}

// Where hc is far above λkT, light grows with exp(-hc / λkT): between 1500 and 1600 K by that at 600 nm, the
// wavelength on which such a body is seen.
TEST(BlackBody, BrightensAsWienSays) {
  const double expected = std::exp(1.438777e7 / 600 * (1.0 / 1500 - 1.0 / 1600));
  EXPECT_NEAR(blackBodyXyz(1600).y / blackBodyXyz(1500).y, expected, 0.06 * expected);
}

TEST(BlackBody, IsRedBeforeItIsWhite) {
  const Vec3d ember = blackBodyColor(1000), daylight = blackBodyColor(6500);
  EXPECT_GT(ember.x, 4 * ember.y);
  EXPECT_EQ(ember.z, 0);
  EXPECT_NEAR(daylight.z / daylight.x, 1, 0.12);
}

}  // namespace
}  // namespace comet
