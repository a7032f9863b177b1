#include "simulation/emission/emission.h"
#include "simulation/emission/shape.h"
#include "support/scenes.h"

#include <glm/geometric.hpp>

namespace comet {
namespace {

using test::positionOf;
using test::simulate;
using test::starting;
using test::velocityOf;
using test::with;

TEST(Births, RateTimesDurationToWithinOne) {
  for (const double rate : {0.3, 7.0, 120.0, 33333.0}) {
    const Scene scene = with(starting(), {"emitter.lifetime=1000", "emitter.rate=" + std::to_string(rate)});
    const SceneFramePtr frame = simulate(scene, 73);
    EXPECT_NEAR(static_cast<double>(frame->report->stats.living), rate * 3, 1) << rate;
  }
}

TEST(Births, KeyedRateGivesTheAreaUnderItsCurve) {
  const Scene scene =
      with(starting(),
           {"emitter.lifetime=1000",
            R"(emitter.rate={"keys":[{"frame":1,"value":0,"to_next":"linear"},{"frame":49,"value":600}]})"});
  const SceneFramePtr frame = simulate(scene, 49);
  EXPECT_NEAR(static_cast<double>(frame->report->stats.living), 600, 1);
  double expected = 0;
  for (const ExpectedBirths& births : expectedBirths(*scene.findByName("emitter"), {1, 49}, 24))
    expected += births.all();
  EXPECT_NEAR(expected, 600, 1e-6);
}

TEST(Births, FastEmitterLeavesEvenGaps) {
  const Scene scene =
      with(starting(), {"emitter.rate=480", "emitter.speed=0", "emitter.lifetime=100",
                        R"(emitter.position={"keys":[{"frame":1,"value":[0,0,0],"to_next":"linear"},
                                                                  {"frame":11,"value":[500,0,0]}]})"});
  const SceneFramePtr frame = simulate(scene, 11);
  const ParticleStore& particles = frame->particles->groups.front().particles;
  ASSERT_GT(particles.size(), 150U);
  double sum = 0, squares = 0;
  for (std::size_t i = 1; i < particles.size(); ++i) {
    const double gap = glm::length(positionOf(particles, i) - positionOf(particles, i - 1));
    sum += gap;
    squares += gap * gap;
  }
  const double count = static_cast<double>(particles.size() - 1), mean = sum / count;
  EXPECT_NEAR(mean, 2.5, 0.05);
  EXPECT_LT(std::sqrt(std::max(0.0, squares / count - mean * mean)), 0.05 * mean);
}

TEST(Births, BurstIsSeenOnItsFrameAndRepeats) {
  const Scene scene = with(starting(), {"emitter.rate=0", "emitter.lifetime=100",
                                        R"(emitter.bursts=[{"frame":5,"count":10,"every":4,"times":3}])"});
  SceneRun run(scene, std::make_shared<FrameCache>(1 << 20));
  const std::vector<std::pair<int, unsigned>> expected{{4, 0}, {5, 10}, {8, 10}, {9, 20}, {13, 30}, {40, 30}};
  for (const auto& [frame, living] : expected)
    EXPECT_EQ(run.frame(frame)->report->stats.living, living) << frame;
  EXPECT_EQ(run.frame(5)->particles->groups.front().particles.field(ParticleStore::Age)[0], 0.0F);
}

TEST(Births, BurstWithADurationIsSpreadEvenly) {
  const Scene scene = with(starting(), {"emitter.rate=0", "emitter.lifetime=100", "emitter.speed=0",
                                        R"(emitter.bursts=[{"frame":5,"count":100,"duration":10}])"});
  SceneRun run(scene, std::make_shared<FrameCache>(1 << 20));
  for (int frame = 1; frame <= 20; ++frame)
    EXPECT_EQ(run.frame(frame)->report->stats.living, 10U * std::clamp(frame - 5, 0, 10)) << frame;
  // At frame 15 the first birth is nearly ten frames old, and each next one a tenth of a frame younger.
  const ParticleStore& particles = run.frame(15)->particles->groups.front().particles;
  for (std::size_t i = 0; i < 100; ++i)
    EXPECT_NEAR(particles.field(ParticleStore::Age)[i], (10 - 0.1 * (static_cast<double>(i) + 0.5)) / 24,
                1e-5);
  const auto expected = expectedBirths(*scene.findByName("emitter"), frameRange(scene), 24);
  for (int frame = 1; frame <= 20; ++frame)
    EXPECT_NEAR(expected[static_cast<std::size_t>(frame - 1)].all(), frame > 5 && frame <= 15 ? 10 : 0, 1e-9);
}

TEST(Births, RepeatsOfSpreadBurstsOverlapAndKeepTheFrameRange) {
  const Scene scene =
      with(starting(), {"emitter.rate=0", "emitter.lifetime=100", "emitter.emits=frame_range",
                        "emitter.emits_from=6", "emitter.emits_until=30",
                        R"(emitter.bursts=[{"frame":5,"count":60,"duration":6,"every":3,"times":5}])"});
  SceneRun run(scene, std::make_shared<FrameCache>(1 << 20));
  // Ten a frame from each; five begin at 5, 8 ... 17, the first frame of them all is cut off.
  EXPECT_EQ(run.frame(8)->report->stats.living, 20U);
  EXPECT_EQ(run.frame(11)->report->stats.living, 80U);
  EXPECT_EQ(run.frame(40)->report->stats.living, 290U);
}

TEST(Births, SpreadBurstGoesOnOverTheEndOfALoop) {
  const Scene scene =
      with(starting(), {"emitter.rate=0", "emitter.lifetime=0.25", "scene.exact_loop=true",
                        "scene.last_frame=24", R"(emitter.bursts=[{"frame":22,"count":60,"duration":6}])"});
  SceneRun run(scene, std::make_shared<FrameCache>(1 << 20));
  for (int frame = 1; frame <= 24; ++frame) {
    const std::uint64_t now = run.frame(frame)->report->stats.births;
    if (frame > 1) {
      EXPECT_EQ(now, frame > 22 || frame <= 4 ? 10U : 0U) << frame;
    }
  }
  EXPECT_GE(run.frame(4)->report->stats.living, 50U) << "what was born before the end is still there";
}

TEST(Births, BurstOnTheFirstFrameIsThere) {
  EXPECT_EQ(simulate(test::oneBurst(25), 1)->report->stats.living, 25U);
}

TEST(Births, VariationOfABurstStaysInItsBand) {
  const Scene scene =
      with(starting(), {"emitter.rate=0", "emitter.lifetime=0.01",
                        R"(emitter.bursts=[{"frame":1,"count":100,"variation":30,"every":1,"times":60}])"});
  SceneRun run(scene, std::make_shared<FrameCache>(1 << 20));
  std::uint64_t min = 1000, max = 0;
  for (int frame = 1; frame <= 60; ++frame) {
    min = std::min(min, run.frame(frame)->report->stats.births);
    max = std::max(max, run.frame(frame)->report->stats.births);
  }
  EXPECT_GE(min, 70U);
  EXPECT_LE(max, 130U);
  EXPECT_GT(max - min, 30U);
}

TEST(Births, ParticlesDieWhenTheirLifetimeIsOver) {
  const Scene scene = with(test::oneBurst(1000), {"emitter.lifetime=1±0.5"});
  SceneRun run(scene, std::make_shared<FrameCache>(1 << 24));
  std::uint64_t deaths = 0;
  for (int frame = 1; frame <= 40; ++frame) {
    deaths += run.frame(frame)->report->stats.deaths;
    const double t = (frame - 1) / 24.0;
    EXPECT_EQ(run.frame(frame)->report->stats.living + deaths, 1000U);
    // Lifetimes are uniform from 0.5 to 1.5 s; three standard deviations of a thousand draws.
    const double fraction = 1.5 - std::clamp(t, 0.5, 1.5);
    EXPECT_NEAR(static_cast<double>(run.frame(frame)->report->stats.living), 1000 * fraction, 50);
  }
  EXPECT_EQ(deaths, 1000U);
}

TEST(Births, StopAtTheLimitAndAreCounted) {
  const Scene scene =
      with(starting(), {"emitter.rate=24000", "emitter.lifetime=100", "scene.max_particles=2500"});
  SceneRun run(scene, std::make_shared<FrameCache>(1 << 24));
  EXPECT_EQ(run.frame(3)->report->stats.refused, 0U);
  EXPECT_EQ(run.frame(4)->report->stats.refused, 500U);
  EXPECT_EQ(run.frame(4)->report->stats.living, 2500U);
  EXPECT_EQ(run.frame(20)->report->stats.living, 2500U);
}

TEST(Births, SeedsGiveOtherTakesOfTheSameEffect) {
  const Scene scene = with(starting(), {"emitter.speed=3±1"});
  const auto digest = [](const Scene& s) { return simulate(s, 10)->particles->digest(); };
  EXPECT_EQ(digest(scene), digest(scene));
  EXPECT_NE(digest(scene), digest(with(scene, {"scene.seed=2"})));
  EXPECT_NE(digest(scene), digest(with(scene, {"emitter.seed=2"})));
}

TEST(Launch, StaysInItsConeAndFillsItEvenly) {
  const Scene scene =
      with(test::oneBurst(20000), {"emitter.cone=60", "emitter.direction=1,0,0", "emitter.speed=2±1"});
  const SceneFramePtr frame = simulate(scene, 1);
  double cosines = 0, slowest = 9, fastest = 0;
  for (std::size_t i = 0; i < 20000; ++i) {
    const Vec3d velocity = velocityOf(frame->particles->groups.front().particles, i);
    const double speed = glm::length(velocity), cosine = velocity.x / speed;
    ASSERT_GE(cosine, 0.5 - 1e-6);
    cosines += cosine;
    slowest = std::min(slowest, speed);
    fastest = std::max(fastest, speed);
  }
  // Uniform over a cap, the cosine is uniform from cos 60° to 1.
  EXPECT_NEAR(cosines / 20000, 0.75, 5 * 0.5 / std::sqrt(12.0 * 20000));
  EXPECT_NEAR(slowest, 1, 0.01);
  EXPECT_NEAR(fastest, 3, 0.01);
}

TEST(Launch, TurnsWithTheShape) {
  const Scene scene = with(test::oneBurst(), {"emitter.rotation=0,0,90", "emitter.direction=0,1,0"});
  const Vec3d velocity = velocityOf(simulate(scene, 1)->particles->groups.front().particles, 0);
  EXPECT_NEAR(glm::length(velocity - Vec3d(-3, 0, 0)), 0, 1e-5);
}

// Mean of |p|² or of a coordinate's square over a uniform shape, against its integral.
struct Moment {
  const char* shape;
  const char* births;
  Vec3d squares;  // mean of x², y², z²
};

class ShapeMoments : public testing::TestWithParam<Moment> {};

TEST_P(ShapeMoments, AreThoseOfAUniformShape) {
  const Moment& expected = GetParam();
  const Scene scene =
      with(starting(), {std::string("emitter.shape=") + expected.shape, "emitter.extent=2,4,6",
                        "emitter.radius=3", std::string("emitter.emit_from=") + expected.births});
  const Shape shape = shapeOf(*scene.findByName("emitter"), 1);
  const RandomSource random(9);
  Vec3d squares(0.0);
  constexpr int kCount = 200000;
  for (int i = 0; i < kCount; ++i) {
    const auto id = static_cast<std::uint64_t>(i);
    const Vec3d p = pointOnSimpleShape(shape, {random.unit(id, Draw::ShapeA), random.unit(id, Draw::ShapeB),
                                               random.unit(id, Draw::ShapeC)})
                        .at;
    squares += p * p;
  }
  squares /= kCount;
  for (int axis = 0; axis < 3; ++axis) EXPECT_NEAR(squares[axis], expected.squares[axis], 0.02 * 9) << axis;
}

// Box of 2 × 4 × 6: faces of area 24 (x), 12 (y), 8 (z), so a coordinate lies on its own face with share
// 24/44 …
constexpr double kX = 24.0 / 44, kY = 12.0 / 44, kZ = 8.0 / 44;
INSTANTIATE_TEST_SUITE_P(
    All, ShapeMoments,
    testing::Values(
        Moment{"point", "inside", {0, 0, 0}}, Moment{"line", "inside", {4.0 / 12, 0, 0}},
        Moment{"ring", "inside", {4.5, 0, 4.5}}, Moment{"disc", "inside", {2.25, 0, 2.25}},
        Moment{"rectangle", "inside", {4.0 / 12, 0, 36.0 / 12}},
        Moment{"box", "inside", {4.0 / 12, 16.0 / 12, 36.0 / 12}},
        Moment{"box",
               "surface",
               {kX * 1 + (1 - kX) * 4 / 12, kY * 4 + (1 - kY) * 16 / 12, kZ * 9 + (1 - kZ) * 36 / 12}},
        Moment{"sphere", "inside", {9.0 / 5, 9.0 / 5, 9.0 / 5}}, Moment{"sphere", "surface", {3, 3, 3}}),
    [](const auto& made) { return std::string(made.param.shape) + "_" + made.param.births; });

}  // namespace
}  // namespace comet
