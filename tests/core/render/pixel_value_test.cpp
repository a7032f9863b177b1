#include "render/pixel_value.h"

#include <gtest/gtest.h>

namespace comet {
namespace {

// IEC 61966-2-1: middle grey of 0.2140 is 127.5 of 255.
TEST(PixelValue, IsToldPremultipliedStraightAndAsAScreenShowsIt) {
  const PixelValue half = pixelValue({0.2140F, 0.0F, 0.5F, 0.5F});
  EXPECT_EQ(half.premultiplied, Vec4(0.2140F, 0.0F, 0.5F, 0.5F));
  EXPECT_FLOAT_EQ(half.straight.x, 0.428F);
  EXPECT_FLOAT_EQ(half.straight.z, 1.0F);
  EXPECT_NEAR(half.screen[0], 127.5, 0.51);
  EXPECT_EQ(half.screen[1], 0);
  EXPECT_EQ(half.screen[2], 188);
}

TEST(PixelValue, WhatCoversNothingHasNoStraightColourAndWhatIsTooBrightIsClipped) {
  const PixelValue glow = pixelValue({3.0F, 0.5F, 0.0F, 0.0F});
  EXPECT_EQ(glow.straight, Vec3(0.0F));
  EXPECT_EQ(glow.screen[0], 255);
  EXPECT_EQ(glow.premultiplied.x, 3.0F);
}

}  // namespace
}  // namespace comet
