#include "base/color.h"

#include <glm/geometric.hpp>
#include <rapidcheck.h>

namespace comet {
namespace {

void expectNear(const Vec3d& actual, const Vec3d& expected, double tolerance) {
  EXPECT_LT(glm::length(actual - expected), tolerance)
      << actual.x << " " << actual.y << " " << actual.z << ", not " << expected.x << " " << expected.y << " "
      << expected.z;
}

const Vec3d kRed(1, 0, 0), kGreen(0, 1, 0), kBlue(0, 0, 1), kWhite(1.0);

TEST(Color, HsvOfThePrimariesIsThatOfTheColourCircle) {
  expectNear(hsvFromLinear(kRed), {0, 1, 1}, 1e-12);
  expectNear(hsvFromLinear(kGreen), {1 / 3.0, 1, 1}, 1e-12);
  expectNear(hsvFromLinear(kBlue), {2 / 3.0, 1, 1}, 1e-12);
  expectNear(hsvFromLinear({0, 1, 1}), {0.5, 1, 1}, 1e-12);
  expectNear(hsvFromLinear(kWhite), {0, 0, 1}, 1e-12);
  // sRGB 128, 64, 64: hue of red, half as vivid as bright.
  expectNear(hsvFromLinear({decodeSrgb(128 / 255.0), decodeSrgb(64 / 255.0), decodeSrgb(64 / 255.0)}),
             {0, 0.5, 128 / 255.0}, 1e-12);
}

// Values from the publication's own table of examples.
TEST(Color, OklabAgreesWithItsPublication) {
  const auto fromXyz = [](double x, double y, double z) {
    return Vec3d(3.2404541621 * x - 1.5371385128 * y - 0.4985314096 * z,
                 -0.9692660305 * x + 1.8760108454 * y + 0.0415560175 * z,
                 0.0556434310 * x - 0.2040259135 * y + 1.0572251882 * z);
  };
  expectNear(oklabFromLinear(fromXyz(0.950, 1.000, 1.089)), {1.000, 0.000, 0.000}, 2e-3);
  expectNear(oklabFromLinear(fromXyz(1.000, 0.000, 0.000)), {0.450, 1.236, -0.019}, 2e-3);
  expectNear(oklabFromLinear(fromXyz(0.000, 1.000, 0.000)), {0.922, -0.671, 0.263}, 2e-3);
  expectNear(oklabFromLinear(fromXyz(0.000, 0.000, 1.000)), {0.153, -1.415, -0.449}, 2e-3);
}

TEST(Color, SpacesGoThereAndBack) {
  EXPECT_TRUE(rc::check([] {
    const auto channel = [] { return *rc::gen::inRange(0, 1001) / 1000.0; };
    const Vec3d color(channel(), channel(), channel());
    RC_ASSERT(glm::length(linearFromHsv(hsvFromLinear(color)) - color) < 1e-9);
    RC_ASSERT(glm::length(linearFromOklab(oklabFromLinear(color)) - color) < 1e-6);
  }));
}

TEST(Color, MixesHandComputed) {
  expectNear(mixColors(kRed, kGreen, 0.5, ColorMix::Linear), {0.5, 0.5, 0}, 1e-12);
  // Halfway round the circle from red to green is yellow, from red to blue magenta: the shorter way.
  expectNear(mixColors(kRed, kGreen, 0.5, ColorMix::Hsv), {1, 1, 0}, 1e-9);
  expectNear(mixColors(kRed, kBlue, 0.5, ColorMix::Hsv), {1, 0, 1}, 1e-9);
  // White has no hue: it takes the other's, and half the saturation remains. sRGB 1, 0.5, 0.5.
  expectNear(mixColors(kWhite, kRed, 0.5, ColorMix::Hsv), {1, decodeSrgb(0.5), decodeSrgb(0.5)}, 1e-9);
  // Between black and white Oklab's lightness is 0.5, whose light is 0.5³.
  expectNear(mixColors(Vec3d(0.0), kWhite, 0.5, ColorMix::Perceptual), Vec3d(0.125), 1e-4);
}

TEST(Color, EveryMixBeginsAndEndsAtItsColours) {
  for (const ColorMix mix : {ColorMix::Linear, ColorMix::Perceptual, ColorMix::Hsv}) {
    expectNear(mixColors({0.2, 0.7, 0.1}, {0.9, 0.1, 0.4}, 0, mix), {0.2, 0.7, 0.1}, 1e-6);
    expectNear(mixColors({0.2, 0.7, 0.1}, {0.9, 0.1, 0.4}, 1, mix), {0.9, 0.1, 0.4}, 1e-6);
  }
}

TEST(Color, AdjustingTurnsFadesAndDims) {
  expectNear(adjustColor(kRed, 1 / 3.0, 1, 1), kGreen, 1e-9);
  expectNear(adjustColor(kRed, -1 / 3.0, 1, 1), kBlue, 1e-9);
  expectNear(adjustColor({0.4, 0.1, 0.1}, 0, 0, 1), Vec3d(0.4), 1e-9);
  expectNear(adjustColor({0.4, 0.1, 0.2}, 0, 1, 0.5), {0.2, 0.05, 0.1}, 1e-9);
}

}  // namespace
}  // namespace comet
