// The plane that cuts a scene open: sprites, lines, surfaces and gas end at it.
#include "render/clip_plane.h"

#include "geometry/shape_mesh.h"
#include "render/renderer.h"
#include "support/scenes.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <limits>

namespace comet {
namespace {

using test::simulate;
using test::with;
using test::withInfluence;

constexpr Camera kFromFront{Camera::Projection::Orthographic, {0, 0, 10}, {0, 0, 0}, 40, 6};
constexpr int kSize = 120;  // pixels of a picture, each way

Picture pictureOf(const Scene& scene, int frame = 1) {
  SceneRun run(scene, test::roomyCache());
  const SceneFramePtr now = run.frame(frame);
  return Renderer().draw(
      {scene, *now, run.past(frame, pastNeeded(scene, frame)), kFromFront, {kSize, kSize}});
}

// The column of a pixel at x, or the row at -y, units.
int pixelAt(double units) { return static_cast<int>(std::floor(kSize / 2 + units * kSize / 6)); }

TEST(ClipPlane, LeavesTheStretchOfARayBeforeOrBehindIt) {
  const ClipPlane plane{{0, 0, 1}, {0, 0, 1}};
  constexpr double kEndless = std::numeric_limits<double>::infinity();
  const auto span = [&](const Vec3d& from, const Vec3d& ray) {
    const ClipPlane::Span drawn = plane.drawnAlong(from, ray);
    return std::pair(drawn.begin, std::max(drawn.begin, drawn.end));
  };
  EXPECT_EQ(span({0, 0, 5}, {0, 0, -1}), std::pair(4.0, kEndless)) << "looks through the part cut away";
  EXPECT_EQ(span({0, 0, -5}, {0, 0, 1}), std::pair(0.0, 6.0)) << "looks at the cut from behind";
  EXPECT_EQ(span({0, 0, 5}, {1, 0, 0}), std::pair(0.0, 0.0));
  EXPECT_EQ(span({0, 0, 0}, {1, 0, 0}), std::pair(0.0, kEndless));
}

TEST(ClipPlane, IsOffUntilItIsTurnedOn) {
  EXPECT_FALSE(clipPlaneOf(test::starting(), 1));
  const auto plane = clipPlaneOf(
      with(test::starting(), {"scene.clip=true", "scene.clip_position=1,2,3", "scene.clip_direction=0,4,0"}),
      1);
  ASSERT_TRUE(plane);
  EXPECT_EQ(plane->direction, Vec3d(0, 1, 0));
  EXPECT_NEAR(plane->beyond({9, 4.5, 9}), 2.5, 1e-12);
}

TEST(ClipPlane, TakesParticlesOnItsSide) {
  // A row of sprites along x at z = 0, of which the plane x = 0.5 leaves those to its left.
  const Scene row = with(test::oneBurst(600), {"emitter.shape=line", "emitter.extent=5,1,1",
                                               "emitter.speed=0", "emitter.size=0.05"});
  const Picture whole = pictureOf(row);
  const Picture cut =
      pictureOf(with(row, {"scene.clip=true", "scene.clip_position=0.5,0,0", "scene.clip_direction=1,0,0"}));
  const int middle = kSize / 2;
  EXPECT_GT(whole.at(pixelAt(1.5), middle).w, 0);
  EXPECT_EQ(cut.at(pixelAt(1.5), middle).w, 0);
  EXPECT_EQ(cut.at(pixelAt(-1.5), middle), whole.at(pixelAt(-1.5), middle));
}

TEST(ClipPlane, CutsLinesRightWhereTheyCrossIt) {
  // One trail straight up from y = 0 to 2.
  const Scene trail = with(test::oneBurst(1),
                           {"emitter.speed=2", "emitter.trail=ribbon", "emitter.trail_time=5",
                            "emitter.trail_hide_sprites=true", "emitter.trail_width=0.4",
                            "emitter.trail_softness=0", R"(emitter.trail_width_along=[{"at":0,"value":1}])",
                            R"(emitter.trail_opacity_along=[{"at":0,"value":1}])"});
  const Picture cut = pictureOf(
      with(trail, {"scene.clip=true", "scene.clip_position=0,1.2,0", "scene.clip_direction=0,1,0"}), 25);
  for (int y = 0; y < kSize; ++y) {
    const double height = (kSize / 2 - y - 0.5) * 6.0 / kSize;
    const float cover = cut.at(kSize / 2, y).w;
    EXPECT_TRUE(cover < 0.01F || height < 1.25) << height;
    EXPECT_TRUE(cover > 0.9F || height > 1.15 || height < 0.05) << height;
  }
}

class SolidBall : public ::testing::TestWithParam<Camera::Projection> {};

// A ball of radius 2 whose front is cut off at z = 1: a disc of radius sqrt(3), lit as what faces the viewer.
TEST_P(SolidBall, ShowsItsCutAsASolidThing) {
  const SceneLights light{{{Vec3d(0.6, 0, 0.8), Vec3(0.5F)}}, Vec3d(0.1)};
  Camera camera = kFromFront;
  camera.projection = GetParam();
  const ClipPlane plane{{0, 0, 1}, {0, 0, 1}};
  const Projector projector(camera, kSize, kSize, plane);
  Solid ball;
  ball.mesh = std::make_shared<const Mesh>(latheMesh(sphereOutline(2)));
  ball.isVisible = true;
  ball.color = {1, 0.5, 0.25};
  const SolidLayer layer({ball}, light, projector, kSize, kSize);
  const Vec3d cutLight = light.on(Vec3d(0.0), plane.direction) * ball.color;
  int onCut = 0;
  for (int y = 0; y < kSize; ++y)
    for (int x = 0; x < kSize; ++x) {
      Vec3d from, ray;
      projector.ray(x + 0.5, y + 0.5, from, ray);
      const double toPlane = (1 - from.z) / ray.z, radius = glm::length(Vec2d(from + ray * toPlane));
      if (radius > std::sqrt(3.0) - 0.06) continue;
      ++onCut;
      EXPECT_GE(layer.depths(y)[x], 9 - 1e-3);
      for (int c = 0; c < 3; ++c) EXPECT_NEAR(layer.colors().at(x, y)[c], cutLight[c], 1e-4);
    }
  EXPECT_GT(onCut, 2000);
  // Where the ball is not cut it looks as ever: near its rim its front lies behind the plane.
  Solid plain = ball;
  const SolidLayer whole({plain}, light, Projector(camera, kSize, kSize), kSize, kSize);
  const int rim = pixelAt(-1.9), middle = kSize / 2;
  EXPECT_EQ(layer.colors().at(rim, middle), whole.colors().at(rim, middle));
}

INSTANTIATE_TEST_SUITE_P(Both, SolidBall,
                         ::testing::Values(Camera::Projection::Perspective,
                                           Camera::Projection::Orthographic));

TEST(ClipPlane, CutsGasRightThere) {
  // Even smoke that grew out of a source all over its box, seen through all of it and through a half.
  const Scene gas = with(test::gasScene(), {"gas.position=0,0,0", "gas.size=2,2,2"});
  const auto cover = [&](const Scene& scene) {
    SceneRun run(scene, test::roomyCache());
    const SceneFramePtr now = run.frame(4);
    const Picture picture = Renderer().draw({scene, *now, {}, kFromFront, {kSize, kSize}});
    double sum = 0;
    for (int y = 0; y < kSize; ++y)
      for (int x = 0; x < kSize; ++x) sum += -std::log(1 - std::min(0.9999, double{picture.at(x, y).w}));
    return sum;
  };
  const double whole = cover(gas);
  const auto half = [&](const char* direction) {
    return cover(with(gas, {"scene.clip=true", std::string("scene.clip_direction=") + direction}));
  };
  const double front = half("0,0,-1"), back = half("0,0,1");
  EXPECT_GT(whole, 1);
  EXPECT_GT(front, 0.2 * whole);
  EXPECT_GT(back, 0.2 * whole);
  EXPECT_NEAR(front + back, whole, 0.01 * whole) << "what is stopped adds up";
}

}  // namespace
}  // namespace comet
