// Balls that roll over deflectors, against the closed forms of a ball on a slope and of a billiard ball.
#include "particles/rolling.h"

#include "bake/framing.h"
#include "render/renderer.h"
#include "support/meshes.h"
#include "support/scenes.h"

#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

using test::kGravity;
using test::onlyGroup;
using test::secondsAt;
using test::simulate;
using test::with;
using test::withInfluence;

constexpr double kRadius = 0.25;

// One ball on a plane through the origin that rises to the right by an angle, thrown along it to the right.
Scene ballOn(double degrees, double speed, std::initializer_list<std::string> assignments) {
  const double angle = radians(degrees), up = kRadius + 1e-4;
  const auto text = [](double number) { return std::to_string(number); };
  const Scene ball =
      with(test::oneBurst(1),
           {"emitter.size=0.5", "emitter.speed=" + text(speed),
            "emitter.direction=" + text(std::cos(angle)) + "," + text(std::sin(angle)) + ",0",
            "emitter.position=" + text(-up * std::sin(angle)) + "," + text(up * std::cos(angle)) + ",0"});
  return with(withInfluence(withInfluence(ball, "gravity"), "deflector",
                            {"deflector.rotation=0,0," + text(degrees), "deflector.bounce=0",
                             "deflector.particle_radius=100", "deflector.rolling=true",
                             "deflector.rolling_friction=0"}),
              assignments);
}

struct Ball {
  double way, speed, roll;  // down to the left, and as one that rolls there without slip would turn
};

Ball ballAt(const Scene& scene, int frame, double degrees) {
  const SceneFramePtr now = simulate(scene, frame);
  const ParticleStore& particles = onlyGroup(now);
  const double angle = radians(degrees);
  const Vec3d down(-std::cos(angle), -std::sin(angle), 0), start(-std::sin(angle), std::cos(angle), 0);
  return {glm::dot(particles.position(0) - start * kRadius, down), glm::dot(particles.velocity(0), down),
          rollOf(particles, 0).z * kRadius};
}

TEST(Rolling, DownASlopeTakesFiveSeventhsOfTheFall) {
  const Ball ball = ballAt(ballOn(20, 0, {"deflector.friction=0.5"}), 25, 20);
  const double fall = kGravity * std::sin(radians(20.0));
  EXPECT_NEAR(ball.way, 0.5 * 5 / 7 * fall, 0.01 * fall);
  EXPECT_NEAR(ball.speed, 5.0 / 7 * fall, 0.002 * fall);
  EXPECT_NEAR(ball.roll, ball.speed, 1e-3) << "without slip";
}

TEST(Rolling, SlipsWhereFrictionIsTooWeak) {
  // It holds up to 7/2 of the coefficient: 0.175.
  const Ball ball = ballAt(ballOn(30, 0, {"deflector.friction=0.05"}), 25, 30);
  const double fall = kGravity * std::sin(radians(30.0)), load = kGravity * std::cos(radians(30.0));
  EXPECT_NEAR(ball.speed, fall - 0.05 * load, 0.002 * fall);
  EXPECT_NEAR(ball.roll, 2.5 * 0.05 * load, 0.002 * fall);
}

TEST(Rolling, ABallThatSlidesEndsUpRollingAtFiveSeventhsOfItsSpeed) {
  // After 2 v / (7 mu g) seconds, here 0.58 (as of a billiard ball: Coriolis 1835).
  const Scene scene = ballOn(0, 4, {"deflector.friction=0.2"});
  const Ball before = ballAt(scene, 7, 0), after = ballAt(scene, 25, 0);
  EXPECT_NEAR(-before.speed, 4 - 0.2 * kGravity * secondsAt(7), 0.01);
  EXPECT_LT(-before.roll, -before.speed - 0.5) << "it still slips";
  EXPECT_NEAR(-after.speed, 4 * 5.0 / 7, 0.01);
  EXPECT_NEAR(after.roll, after.speed, 1e-3);
}

TEST(Rolling, FrictionOfItBringsBallsToRest) {
  // Rolls from the start: friction ends its slip at once. It goes on for v² / (2 × 5/7 × c g).
  const Scene scene = ballOn(0, 2.8, {"deflector.friction=100", "deflector.rolling_friction=0.1"});
  const double speed = 2, way = speed * speed / (2 * 5.0 / 7 * 0.1 * kGravity);
  const Ball ball = ballAt(scene, 120, 0);
  EXPECT_NEAR(-ball.way, way, 0.05 * way);
  EXPECT_EQ(ball.speed, 0);
  EXPECT_EQ(ball.roll, 0);
  // On a slope of less than the coefficient to one it stays where it is.
  const Ball held = ballAt(ballOn(5, 0, {"deflector.friction=0.5", "deflector.rolling_friction=0.1"}), 25, 5);
  EXPECT_NEAR(held.way, 0, 1e-3);
}

TEST(Rolling, TurnsAsFarAsTheBallHasRolled) {
  const Scene scene = ballOn(20, 0, {"deflector.friction=0.5"});
  const SceneFramePtr now = simulate(scene, 25);
  const glm::dquat turned = orientationOf(onlyGroup(now), 0);
  const double angle = ballAt(scene, 25, 20).way / kRadius;
  const Vec3d shown = turned * Vec3d(1, 0, 0);
  EXPECT_NEAR(shown.x, std::cos(angle), 0.02);
  EXPECT_NEAR(shown.y, std::sin(angle), 0.02);
  EXPECT_NEAR(shown.z, 0, 1e-6);
}

TEST(Rolling, OffSlidesWithoutTurning) {
  const Scene scene = ballOn(30, 0, {"deflector.rolling=false", "deflector.friction=0.1"});
  const SceneFramePtr now = simulate(scene, 25);
  EXPECT_FALSE(onlyGroup(now).fields().has(ParticleStore::RollX));
  EXPECT_NEAR(onlyGroup(now).velocity(0).y,
              -kGravity * (std::sin(radians(30.0)) - 0.1 * std::cos(radians(30.0))) * 0.5, 0.02);
}

// A long box that stands upright and rolls by about a quarter of a turn lies along x then.
TEST(Rolling, MeshesAreSeenToTurn) {
  Scene scene = ballOn(
      0, 2.8,
      {"deflector.friction=100", "emitter.sprite=mesh", "emitter.facing=plane", "scene.light_strength=1"});
  ParamValue value;
  value.base =
      FileRef{"made by the test", std::make_shared<const MeshContent>(test::boxMesh({0.2, 1, 0.2})), {}};
  scene = scene.withParam(scene.findByName("emitter")->id, "sprite_mesh", value);
  const auto shape = [&](int frame) {
    const SceneFramePtr now = simulate(scene, frame);
    const Camera camera{Camera::Projection::Orthographic, {0, 0, 10}, {0, 0, 0}, 40, 6};
    const SeenBox seen = seenBox(Renderer().draw({scene, *now, {}, camera, {128, 128}}));
    return (seen.bottom - seen.top) / (seen.right - seen.left);
  };
  EXPECT_GT(shape(1), 2);
  // At 2 units a second: a quarter of a turn after 0.2 seconds.
  EXPECT_LT(shape(6), 0.5);
}

TEST(Rolling, IsTheSameHoweverItIsRun) {
  test::expectTheSameHoweverRun(
      with(ballOn(20, 0, {"deflector.friction=0.3"}),
           {"emitter.bursts=[]", "emitter.rate=60", "emitter.speed=1±1", "emitter.cone=60"}),
      30);
}

}  // namespace
}  // namespace comet
