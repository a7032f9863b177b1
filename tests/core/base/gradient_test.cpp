#include "base/gradient.h"

#include <gmock/gmock.h>

namespace comet {
namespace {

TEST(Gradient, BlendsBetweenStopsInLinearLight) {
  const Gradient gradient({{0.75, {1, 0.5, 0}}, {0.25, {0, 0, 1}}});
  EXPECT_EQ(gradient.at(0), Vec3d(0, 0, 1));
  EXPECT_EQ(gradient.at(0.5), Vec3d(0.5, 0.25, 0.5));
  EXPECT_EQ(gradient.at(1), Vec3d(1, 0.5, 0));
}

TEST(Srgb, AgreesWithTheStandardsTable) {
  // IEC 61966-2-1: the darkest step is linear, mid grey 0.214 is half way.
  EXPECT_DOUBLE_EQ(encodeSrgb(0.001), 0.01292);
  EXPECT_NEAR(encodeSrgb(0.2140411), 0.5, 1e-6);
  EXPECT_NEAR(encodeSrgb(1), 1, 1e-12);
}

TEST(Srgb, DecodingUndoesEncoding) {
  for (int i = 0; i <= 255; ++i) EXPECT_NEAR(encodeSrgb(decodeSrgb(i / 255.0)), i / 255.0, 1e-9);
}

}  // namespace
}  // namespace comet
