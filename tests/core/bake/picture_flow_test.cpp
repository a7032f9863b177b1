#include "bake/picture_flow.h"

#include "bake/frame_choice.h"

#include <cmath>
#include <gtest/gtest.h>

namespace comet {
namespace {

// A soft spot, premultiplied.
Picture spotAt(double x, double y, double radius = 6, Vec4 color = Vec4(0.8F, 0.4F, 0.2F, 0.5F)) {
  Picture picture(64, 48);
  for (int j = 0; j < 48; ++j)
    for (int i = 0; i < 64; ++i)
      picture.at(i, j) =
          color *
          static_cast<float>(std::exp(-(std::pow(i - x, 2) + std::pow(j - y, 2)) / (radius * radius)));
  return picture;
}

TEST(PictureFlow, FindsHowFarAThingMoved) {
  const Picture from = spotAt(28, 20), to = spotAt(34, 23);
  const Picture flow = flowBetween(from, to);
  for (const auto& [x, y] : {std::pair(28, 20), {24, 20}, {28, 24}, {31, 18}}) {
    EXPECT_NEAR(flow.at(x, y).x, 6, 0.5) << x << " " << y;
    EXPECT_NEAR(flow.at(x, y).y, 3, 0.5) << x << " " << y;
  }
}

TEST(PictureFlow, AFadeAlongItShowsAThingOnceAndOnItsWay) {
  const Picture from = spotAt(26, 22), to = spotAt(36, 26);
  const Picture flow = flowBetween(from, to);
  for (const double fraction : {0.25, 0.5, 0.75}) {
    const Picture half = morphed(from, to, flow, fraction);
    const Picture wanted = spotAt(26 + 10 * fraction, 22 + 4 * fraction);
    const Picture plain = morphed(from, to, Picture(64, 48), fraction);
    EXPECT_LT(changeBetween(half, wanted), 0.15 * changeBetween(plain, wanted)) << fraction;
  }
}

TEST(PictureFlow, AFadeBeginsAndEndsWithItsPictures) {
  const Picture from = spotAt(26, 22), to = spotAt(33, 24, 8);
  const Picture flow = flowBetween(from, to);
  EXPECT_EQ(morphed(from, to, flow, 0), from);
  EXPECT_EQ(morphed(from, to, flow, 1), to);
}

TEST(PictureFlow, ThingsWithNothingInCommonStayWhereTheyAre) {
  const Picture nothing(64, 48);
  EXPECT_EQ(flowBetween(spotAt(30, 20), nothing), nothing);
  EXPECT_EQ(flowBetween(nothing, nothing), nothing);
  EXPECT_EQ(flowBetween(spotAt(30, 20), spotAt(30, 20)), nothing) << "nothing is left to be brought nearer";
}

TEST(PictureFlow, CopesWithTheSmallestPictures) {
  Picture one(1, 1);
  one.at(0, 0) = Vec4(1);
  EXPECT_EQ(morphed(one, one, flowBetween(one, one), 0.5), one);
}

}  // namespace
}  // namespace comet
