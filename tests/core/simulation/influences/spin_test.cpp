// Turning by an influence: angles against their closed forms, and as it is drawn.
#include "base/vec.h"
#include "render/renderer.h"
#include "support/scenes.h"

#include <cmath>

namespace comet {
namespace {

using test::oneBurst;
using test::onlyGroup;
using test::simulate;
using test::with;
using test::withInfluence;

double degreesOf(const SceneFramePtr& frame, std::size_t i = 0) {
  const float* turns = onlyGroup(frame).field(ParticleStore::Turn);
  return turns ? turns[i] * 180 / kPi : 0;
}

TEST(Spin, TurnsByItsRateWhateverTheSubsteps) {
  for (const char* substeps : {"1", "3"}) {
    const Scene scene = with(withInfluence(oneBurst(), "spin", {"spin.rate=90"}),
                             {std::string("scene.substeps=") + substeps});
    EXPECT_NEAR(degreesOf(simulate(scene, 49)), 180, 1e-3) << substeps;
  }
}

TEST(Spin, ByTheWayTurnsAsAWheelRolls) {
  const Scene scene =
      withInfluence(oneBurst(), "spin", {"spin.spin_mode=distance", "spin.per_unit=30", "emitter.speed=4"});
  EXPECT_NEAR(degreesOf(simulate(scene, 25)), 4 * 30, 1e-3);
}

TEST(Spin, StaysWhenItsWindowIsOver) {
  const Scene scene =
      withInfluence(oneBurst(), "spin",
                    {"spin.rate=240", "spin.acts=frame_range", "spin.acts_from=7", "spin.acts_until=12"});
  EXPECT_EQ(onlyGroup(simulate(scene, 5)).field(ParticleStore::Turn), nullptr);
  const double turned = degreesOf(simulate(scene, 13));
  EXPECT_NEAR(turned, 50, 1e-3);  // from frame 7 to 12 at 10° a frame
  EXPECT_EQ(degreesOf(simulate(scene, 60)), turned);
}

TEST(Spin, ActsWithinItsReachOnly) {
  // Leaves the ball of radius 2 after a second.
  const Scene scene =
      withInfluence(oneBurst(), "spin",
                    {"spin.rate=100", "emitter.speed=2", "spin.reach=sphere", "spin.reach_position=0,0,0",
                     "spin.reach_radius=2", "spin.reach_soft_edge=0"});
  EXPECT_NEAR(degreesOf(simulate(scene, 25)), 100, 0.5);
  EXPECT_NEAR(degreesOf(simulate(scene, 60)), 100, 5);
}

TEST(Spin, EitherWayIsAFairCoinAndVariationIsEven) {
  const Scene scene =
      withInfluence(oneBurst(4000), "spin", {"spin.rate=100±20", "spin.spin_direction=random"});
  const SceneFramePtr frame = simulate(scene, 25);
  int clockwise = 0;
  double sum = 0;
  for (std::size_t i = 0; i < 4000; ++i) {
    const double degrees = degreesOf(frame, i);
    clockwise += degrees > 0 ? 1 : 0;
    sum += std::abs(degrees);
    EXPECT_GE(std::abs(degrees), 80 - 0.01);
    EXPECT_LE(std::abs(degrees), 120 + 0.01);
  }
  EXPECT_NEAR(clockwise, 2000, 4 * std::sqrt(1000.0));
  EXPECT_NEAR(sum / 4000, 100, 1);
}

TEST(Spin, LooksAsATurnOfTheSameAngle) {
  const Scene still = with(oneBurst(), {"emitter.speed=0", "emitter.sprite=star", "emitter.size=2",
                                        "emitter.aspect_ratio=0.3", "emitter.sprite_rotation=0"});
  const auto pictureOf = [](const Scene& scene) {
    return Renderer().draw({scene,
                            *simulate(scene, 25),
                            {},
                            {Camera::Projection::Orthographic, {0, 0, 5}, {0, 0, 0}, 40, 3},
                            {64, 64}});
  };
  const Picture turned = pictureOf(withInfluence(still, "spin", {"spin.rate=45"}));
  const Picture rotated = pictureOf(with(still, {"emitter.sprite_rotation=45"}));
  const Picture straight = pictureOf(still);
  double difference = 0, all = 0;
  for (int y = 0; y < 64; ++y)
    for (int x = 0; x < 64; ++x) {
      EXPECT_NEAR(turned.at(x, y).w, rotated.at(x, y).w, 1e-3);
      difference += std::abs(straight.at(x, y).w - rotated.at(x, y).w);
      all += straight.at(x, y).w;
    }
  EXPECT_GT(all, 10);
  EXPECT_GT(difference, 0.5 * all);
}

}  // namespace
}  // namespace comet
