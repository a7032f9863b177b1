#include "render/finish.h"

#include "render/renderer.h"
#include "support/scenes.h"

#include <glm/geometric.hpp>

namespace comet {
namespace {

using test::starting;
using test::with;

Picture withDot(int size, const Vec4& pixel) {
  Picture picture(size, size);
  picture.at(size / 2, size / 2) = pixel;
  return picture;
}

Finish glow(double threshold = 0) {
  Finish finish;
  finish.glows = true;
  finish.glowThreshold = threshold;
  finish.glowSize = 0.06;
  finish.glowStrength = 1;
  return finish;
}

TEST(Blur, KeepsTheLightAndHasItsDeviation) {
  const Picture picture = blurred(withDot(201, Vec4(1, 2, 3, 0)), 6);
  Vec4 sum(0.0F);
  double squares = 0;
  for (int y = 0; y < 201; ++y)
    for (int x = 0; x < 201; ++x) {
      sum += picture.at(x, y);
      squares += picture.at(x, y).x * (x - 100.0) * (x - 100.0);
    }
  EXPECT_NEAR(sum.x, 1, 1e-3);
  EXPECT_NEAR(sum.z, 3, 3e-3);
  // Whole pixels of three boxes come near the deviation, not onto it.
  EXPECT_NEAR(std::sqrt(squares), 6, 0.2);
}

TEST(Glow, OfAHalfTransparentPixelIsHalf) {
  const Vec4 opaque(1.5, 0.9, 0.3, 1);
  for (const double threshold : {0.0, 0.5, 1.0}) {
    Picture full = withDot(100, opaque), half = withDot(100, opaque * 0.5F);
    applyFinish(glow(threshold), full, full);
    applyFinish(glow(threshold), half, half);
    double seen = 0;
    for (int y = 0; y < 100; ++y)
      for (int x = 0; x < 100; ++x) {
        EXPECT_NEAR(half.at(x, y).x, full.at(x, y).x / 2, 1e-6);
        if (x != 50 || y != 50) seen += full.at(x, y).x;
      }
    EXPECT_GT(seen, 0.2) << "nothing glows at " << threshold;
  }
}

// Of a single bright pixel, away from the picture's edges, also of odd sizes.
TEST(Glow, SpreadsAsThreeGaussians) {
  constexpr double kLight = 1e4;
  Finish finish;
  finish.glows = true;
  finish.glowThreshold = 0;
  finish.glowSize = 0.04;
  finish.glowStrength = 0.5;
  for (const PictureSize size : {PictureSize{800, 600}, PictureSize{801, 603}}) {
    const int x0 = size.width / 2, y0 = size.height / 2;
    Picture lit(size.width, size.height);
    lit.at(x0, y0) = Vec4(static_cast<float>(kLight));
    const Picture glow = glowOf(finish, lit);
    const auto expected = [&](double squaredDistance) {
      double sum = 0;
      for (const auto& [part, weight] : {std::pair(0.2, 0.5), std::pair(0.5, 0.3), std::pair(1.0, 0.2)}) {
        const double variance = std::pow(part * finish.glowSize * size.height, 2);
        sum += weight / (2 * kPi * variance) * std::exp(-squaredDistance / (2 * variance));
      }
      return kLight * finish.glowStrength * sum;
    };
    double sum = 0, moment = 0, expectedMoment = 0;
    for (int y = 0; y < size.height; ++y)
      for (int x = 0; x < size.width; ++x) {
        const double squared = std::pow(x - x0, 2) + std::pow(y - y0, 2);
        sum += glow.at(x, y).x;
        moment += glow.at(x, y).x * squared;
        expectedMoment += expected(squared) * squared;
      }
    EXPECT_NEAR(sum, kLight * finish.glowStrength, 0.01 * sum);
    EXPECT_NEAR(moment, expectedMoment, 0.03 * expectedMoment);
    // Three boxes are flatter at the top than a Gaussian, by 6 % each way.
    constexpr double kFlatter = 0.12;
    for (const int away : {0, 4, 8, 16, 32}) {
      EXPECT_NEAR(glow.at(x0 + away, y0).x, expected(away * away), kFlatter * expected(0.25 * away * away))
          << away;
      EXPECT_NEAR(glow.at(x0, y0 - away).x, expected(away * away), kFlatter * expected(0.25 * away * away))
          << away;
    }
  }
}

TEST(Glow, FaintColoursDoNotGlowOverTheThreshold) {
  Picture picture = withDot(100, Vec4(0.4, 0.4, 0.4, 1));
  const Picture before = picture;
  applyFinish(glow(0.5), picture, picture);
  EXPECT_EQ(picture, before);
}

TEST(Glow, CoversNothing) {
  Picture picture = withDot(100, Vec4(4, 4, 4, 1));
  applyFinish(glow(), picture, picture);
  EXPECT_GT(picture.at(52, 50).x, 0);
  EXPECT_EQ(picture.at(52, 50).w, 0);
}

TEST(Exposure, IsAPowerOfTwo) {
  Picture picture = withDot(4, Vec4(0.1, 0.2, 0.3, 0.5));
  Finish finish;
  finish.exposure = 2;
  applyFinish(finish, picture, picture);
  EXPECT_NEAR(picture.at(2, 2).y, 0.8, 1e-6);
  EXPECT_EQ(picture.at(2, 2).w, 0.5F);
}

TEST(RollOff, LeavesTheDarkAndNeverReachesWhite) {
  Picture picture(3, 1);
  picture.at(0, 0) = Vec4(0.4, 0.2, 0.1, 1);
  picture.at(1, 0) = Vec4(3, 1.5, 0, 1);
  picture.at(2, 0) = Vec4(100, 50, 0, 1);
  Finish finish;
  finish.rollOff = 0.5;
  applyFinish(finish, picture, picture);
  EXPECT_EQ(picture.at(0, 0), Vec4(0.4, 0.2, 0.1, 1));
  EXPECT_NEAR(picture.at(1, 0).x, 0.5 + 0.5 * (1 - std::exp(-5.0)), 1e-5);
  EXPECT_LE(picture.at(2, 0).x, 1);
  // Its hue stays.
  EXPECT_NEAR(picture.at(1, 0).y / picture.at(1, 0).x, 0.5, 1e-5);
}

// A disc that moves straight across the picture at a steady speed.
Scene movingDisc() {
  return with(starting(),
              {"emitter.rate=0", R"(emitter.bursts=[{"frame":1,"count":1}])", "emitter.speed=24",
               "emitter.cone=0", "emitter.direction=1,0,0", "emitter.position=-6,0,0",
               "emitter.lifetime_mode=endless", "emitter.sprite=dot", "emitter.size=1",
               "camera.projection=orthographic", "camera.height=10", "camera.position=0,0,10",
               "camera.aim=0,0,0", R"(emitter.opacity={"value":100,"over_age":[{"at":0,"value":1}]})"});
}

TEST(MotionBlur, CoversTheSweptAreaOfADisc) {
  // At frame 7 it is at x = 0 and moves a unit a frame; the shutter is open for two frames around it.
  const Scene scene = movingDisc();
  Finish finish;
  finish.shutter = 2;
  finish.shutterSamples = 128;
  const Picture picture =
      Renderer().draw({scene, *test::simulate(scene, 7), {}, cameraOf(scene, 7), {400, 400}}, finish);
  double sum = 0;
  for (const Vec4& pixel : picture.pixels()) sum += pixel.w;
  // 40 pixels a unit. The light is spread, not changed.
  EXPECT_NEAR(sum, kPi * 20 * 20, 0.01 * kPi * 400);
  // How long a point on the way is covered: the chord of the disc through it over the way of two units.
  for (const double y : {0.0, 0.3, 0.45}) {
    const double chord = 2 * std::sqrt(0.25 - y * y);
    EXPECT_NEAR(picture.at(200, static_cast<int>(200 + y * 40)).w, chord / 2, 0.03) << y;
  }
  EXPECT_NEAR(picture.at(200 + 39, 200).w, 0.25, 0.03);
  EXPECT_EQ(picture.at(200 + 64, 200).w, 0.0F);
}

TEST(MotionBlur, AnEmitterWithoutShutterIsSharp) {
  const Scene scene = movingDisc();
  const Picture picture =
      Renderer().draw({scene, *test::simulate(scene, 7), {}, cameraOf(scene, 7), {400, 400}});
  EXPECT_EQ(picture.at(200, 200).w, 1.0F);
  EXPECT_EQ(picture.at(225, 200).w, 0.0F);
}

TEST(Glow, OfAnEmitterIsItsOwnShare) {
  Scene scene = with(movingDisc(), {"emitter.position=0,0,0", "emitter.speed=0", "camera.glow=true",
                                    "camera.glow_threshold=0"});
  const auto light = [](const Scene& s) {
    const Picture picture =
        Renderer().draw({s, *test::simulate(s, 1), {}, cameraOf(s, 1), {100, 100}}, finishOf(s.camera(), 1));
    return picture.at(58, 50).x;
  };
  const float full = light(scene);
  EXPECT_GT(full, 0.01F);
  EXPECT_NEAR(light(with(scene, {"emitter.glow=50"})), full / 2, 1e-4);
  EXPECT_NEAR(light(with(scene, {"emitter.glow=0"})), 0, 1e-6);
}

TEST(Finish, BakesTakeTheCamerasOrTheirOwn) {
  const Scene scene = with(starting(), {"camera.exposure=1", "flipbook.exposure=-1"});
  EXPECT_EQ(finishOf(scene.camera(), 1).exposure, 1);
  EXPECT_EQ(finishOf(*scene.findByName("flipbook"), 1).exposure, -1);
}

}  // namespace
}  // namespace comet
