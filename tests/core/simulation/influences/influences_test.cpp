// Each kind of influence against its closed form.
#include "simulation/influences/influences.h"

#include "support/scenes.h"

#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

using test::oneBurst;
using test::onlyGroup;
using test::positionOf;
using test::secondsAt;
using test::simulate;
using test::velocityOf;
using test::with;
using test::withInfluence;

// A run that goes on where it was.
class Watched {
 public:
  explicit Watched(const Scene& scene) : run_(scene, std::make_shared<FrameCache>(memoryBudget(scene))) {}

  Vec3d position(int frame) { return positionOf(onlyGroup(run_.frame(frame)), 0); }
  Vec3d velocity(int frame) { return velocityOf(onlyGroup(run_.frame(frame)), 0); }

 private:
  SceneRun run_;
};

TEST(QuadraticDrag, FallsAtTheRootOfGravityOverItsCoefficient) {
  const Scene scene = withInfluence(withInfluence(oneBurst(), "gravity", {"gravity.strength=8"}), "drag",
                                    {"drag.drag_law=quadratic", "drag.coefficient=0.5"});
  EXPECT_NEAR(velocityOf(onlyGroup(simulate(scene, 24 * 10)), 0).y, -4, 1e-4);
}

// Alone, dv/dt = -c v²: v = v0 / (1 + c v0 t) and x = ln(1 + c v0 t) / c.
TEST(QuadraticDrag, DecaysAsItsClosedFormOverAllThatIsOffered) {
  for (const double c : {1e-4, 0.01, 0.8, 10.0, 1000.0})
    for (const double v0 : {0.01, 3.0, 100.0, 1000.0})
      for (const char* substeps : {"1", "4"}) {
        const Scene scene =
            with(withInfluence(oneBurst(), "drag",
                               {"drag.drag_law=quadratic", "drag.coefficient=" + std::to_string(c)}),
                 {"emitter.speed=" + std::to_string(v0), std::string("scene.substeps=") + substeps});
        Watched run(scene);
        for (const int frame : {2, 13, 49}) {
          const double grown = 1 + c * v0 * secondsAt(frame);
          SCOPED_TRACE(testing::Message() << c << " at " << v0 << ", frame " << frame);
          // Each step rounds to a float.
          EXPECT_NEAR(run.velocity(frame).y / (v0 / grown), 1, 2e-5);
          EXPECT_NEAR(run.position(frame).y / (std::log(grown) / c), 1, 2e-5);
        }
      }
}

// With gravity, a fall from rest is v = w tanh(g t / w) with w = √(g / c), and x = w² / g ln cosh(g t / w).
TEST(QuadraticDrag, FallsAsItsClosedForm) {
  constexpr double g = 9.81;
  for (const double c : {0.01, 0.5, 20.0, 1000.0}) {
    const Scene scene =
        with(withInfluence(withInfluence(oneBurst(), "gravity", {"gravity.strength=9.81"}), "drag",
                           {"drag.drag_law=quadratic", "drag.coefficient=" + std::to_string(c)}),
             {"emitter.speed=0"});
    Watched run(scene);
    const double w = std::sqrt(g / c);
    for (const int frame : {2, 5, 25, 97}) {
      const double turn = g * secondsAt(frame) / w;
      const double fallen = w * w / g * (turn + std::log1p(std::exp(-2 * turn)) - std::log(2.0));
      SCOPED_TRACE(testing::Message() << c << ", frame " << frame);
      EXPECT_NEAR(-run.velocity(frame).y / (w * std::tanh(turn)), 1, 0.01);
      // The way of the first step is off by a quarter of the fraction of the speed that a piece of it may
      // lose.
      EXPECT_NEAR(-run.position(frame).y / fallen, 1, frame == 2 ? 0.25 / 4 : 0.02);
    }
  }
}

TEST(Drag, ActsAlongEachAxisAsMuchAsItSays) {
  const Scene scene = with(withInfluence(oneBurst(), "drag", {"drag.rate=2", "drag.axes=100,50,0"}),
                           {"emitter.direction=1,1,1"});
  const Vec3d v = velocityOf(onlyGroup(simulate(scene, 25)), 0) / (3 / std::sqrt(3.0));
  EXPECT_NEAR(v.x, std::exp(-2.0), 1e-5);
  EXPECT_NEAR(v.y, std::exp(-1.0), 1e-5);
  EXPECT_NEAR(v.z, 1, 1e-5);
}

TEST(Wind, TwoSourcesSum) {
  Scene scene =
      with(withInfluence(oneBurst(), "wind", {"wind.speed=2", "wind.direction=1,0,0"}), {"emitter.speed=0"});
  Item second = newItem(*catalog().find("wind"), "other");
  scene = with(scene.withAdded(second), {"other.speed=3", "other.direction=0,0,1"});
  const Vec3d drift = velocityOf(onlyGroup(simulate(scene, 24 * 10)), 0);
  EXPECT_LT(glm::length(drift - Vec3d(2, 0, 3)), 1e-4);
}

TEST(Wind, GustsChangeTheSpeedButNotItsMean) {
  const Scene scene =
      with(withInfluence(oneBurst(), "wind",
                         {"wind.speed=4", "wind.air_drag=50", "wind.gusts=80", "wind.gust_period=0.5"}),
           {"emitter.speed=0", "scene.last_frame=2400"});
  Watched run(scene);
  double sum = 0, min = 1e9, max = 0;
  for (int frame = 25; frame <= 2400; ++frame) {
    const double speed = run.velocity(frame).x;
    sum += speed;
    min = std::min(min, speed);
    max = std::max(max, speed);
  }
  EXPECT_NEAR(sum / (2400 - 24), 4, 0.3);
  EXPECT_LT(min, 2);
  EXPECT_GT(max, 6);
}

TEST(Attractor, DampedSpringSwingsAsItsClosedForm) {
  // x'' = -s x - k x', from x = 3 at rest: under-damped.
  constexpr double s = 9, k = 0.8;
  const Scene scene = with(withInfluence(withInfluence(oneBurst(), "attractor",
                                                       {"attractor.position=0,0,0",
                                                        "attractor.falloff=linear", "attractor.strength=9"}),
                                         "drag", {"drag.rate=0.8"}),
                           {"emitter.speed=0", "emitter.position=3,0,0", "scene.substeps=8"});
  Watched run(scene);
  const double w = std::sqrt(s - k * k / 4);
  for (int frame = 1; frame <= 72; frame += 5) {
    const double t = secondsAt(frame);
    const double x = 3 * std::exp(-k * t / 2) * (std::cos(w * t) + k / (2 * w) * std::sin(w * t));
    EXPECT_NEAR(run.position(frame).x, x, 2e-3) << frame;
  }
}

// x'' = -s x from x = 3 at rest, at one substep. Up to a quarter of a round in a step it swings at its own
// rate; beyond, it swings at some rate, and not farther than it came from.
TEST(Attractor, SpringsOfAnyStrengthSwingAndStay) {
  for (const double s : {1.0, 40.0, 400.0, 1200.0, 5000.0, 1e4, 1e5})
    for (const char* birth : {"1", "9.4"}) {
      const Scene scene = with(withInfluence(oneBurst(), "attractor",
                                             {"attractor.position=0,0,0", "attractor.falloff=linear",
                                              "attractor.strength=" + std::to_string(s)}),
                               {"emitter.speed=0", "emitter.position=3,0,0",
                                std::string("emitter.bursts=[{\"frame\":") + birth + ",\"count\":1}]"});
      Watched run(scene);
      const double w = std::sqrt(s);
      for (int frame = 11; frame <= 240; ++frame) {
        const double x = run.position(frame).x;
        // A step that is shorter than the others, as at a birth between frames, ends on another ellipse.
        ASSERT_LE(std::abs(x), birth[1] == 0 ? 3 * 1.001 : 3 * 1.7) << s << ", frame " << frame;
        if (w > 1.5 * 24 || birth[1] != 0) continue;
        ASSERT_NEAR(x, 3 * std::cos(w * secondsAt(frame)), 0.002 * (1 + 0.02 * frame)) << s << ", " << frame;
      }
    }
}

TEST(Attractor, SpringsOnTheSameParticleHoldTogether) {
  Scene scene = oneBurst();
  for (const char* name : {"one", "two", "three"})
    scene = with(scene.withAdded(newItem(*catalog().find("attractor"), name)),
                 {std::string(name) + ".position=0,0,0", std::string(name) + ".falloff=linear",
                  std::string(name) + ".strength=100000"});
  scene = with(scene, {"emitter.speed=0", "emitter.position=3,0,0"});
  Watched run(scene);
  for (int frame = 2; frame <= 240; ++frame) ASSERT_LE(std::abs(run.position(frame).x), 3.01) << frame;
}

TEST(Attractor, KeepsTheEnergyOfAnOrbitBounded) {
  // An ellipse about a mass of 20: energy v²/2 - 20/r.
  const Scene scene =
      with(withInfluence(oneBurst(), "attractor",
                         {"attractor.position=0,0,0", "attractor.falloff=inverse_square",
                          "attractor.strength=20", "attractor.core_radius=0"}),
           {"emitter.position=4,0,0", "emitter.speed=1.8", "scene.substeps=4", "scene.last_frame=2400"});
  Watched run(scene);
  const auto energy = [&run](int frame) {
    const Vec3d v = run.velocity(frame);
    return 0.5 * glm::dot(v, v) - 20 / glm::length(run.position(frame));
  };
  const double first = energy(1);
  double early = 0, late = 0;
  for (int frame = 2; frame <= 2400; ++frame) {
    const double off = std::abs(energy(frame) / first - 1);
    (frame <= 1200 ? early : late) = std::max(frame <= 1200 ? early : late, off);
  }
  EXPECT_LT(early, 1e-3);
  EXPECT_LT(late, 2 * early) << "the error grows with time";
}

TEST(Attractor, PullsByItsLawAndPushesIfNegative) {
  const auto pullAt = [](const char* law, double strength, const char* place) {
    const Scene scene =
        with(withInfluence(
                 oneBurst(), "attractor",
                 {"attractor.position=0,0,0", "attractor.core_radius=0",
                  std::string("attractor.falloff=") + law, "attractor.strength=" + std::to_string(strength)}),
             {"emitter.speed=0", std::string("emitter.position=") + place, "scene.frame_rate=240"});
    return velocityOf(onlyGroup(simulate(scene, 2)), 0).x * 240;
  };
  EXPECT_NEAR(pullAt("constant", 6, "4,0,0"), -6, 1e-2);
  EXPECT_NEAR(pullAt("linear", 6, "4,0,0"), -24, 1e-2);
  EXPECT_NEAR(pullAt("inverse", 6, "4,0,0"), -1.5, 1e-2);
  EXPECT_NEAR(pullAt("inverse_square", 6, "4,0,0"), -0.375, 1e-2);
  EXPECT_NEAR(pullAt("constant", -6, "4,0,0"), 6, 1e-2);
}

TEST(Attractor, ALinePullsStraightToItself) {
  const Scene scene =
      with(withInfluence(oneBurst(), "attractor",
                         {"attractor.target=line", "attractor.position=0,0,0", "attractor.axis=0,3,0",
                          "attractor.falloff=constant", "attractor.strength=1"}),
           {"emitter.speed=0", "emitter.position=3,7,0"});
  const Vec3d v = velocityOf(onlyGroup(simulate(scene, 13)), 0);
  EXPECT_NEAR(v.x, -0.5, 1e-2);
  EXPECT_NEAR(v.y, 0, 1e-6);
}

TEST(Swirl, RunsInACircleForAHundredTurns) {
  const Scene scene =
      with(withInfluence(oneBurst(), "bend", {"bend.axis=0,1,0", "bend.angular_speed=1"}),
           {"emitter.direction=1,0,0", "emitter.speed=2", "emitter.lifetime=1000", "scene.last_frame=2401"});
  Watched run(scene);
  // Turning counter-clockwise seen against the axis, the middle lies at v × axis over the turn rate.
  const double radius = 2 / (2 * kPi);
  const Vec3d middle(0, 0, -radius);
  for (int frame = 1; frame <= 2401; frame += 7)
    EXPECT_NEAR(glm::length(run.position(frame) - middle) / radius, 1, 1e-3) << frame;
  EXPECT_LT(glm::length(run.position(2401)), 0.01) << "after whole turns it is where it began";
}

TEST(Swirl, TheSignDecidesTheSide) {
  const auto side = [](const char* turns) {
    return positionOf(onlyGroup(simulate(with(withInfluence(oneBurst(), "bend",
                                                            {std::string("bend.angular_speed=") + turns}),
                                              {"emitter.direction=1,0,0"}),
                                         5)),
                      0)
        .z;
  };
  EXPECT_NEAR(side("0.5"), -side("-0.5"), 1e-5);
  EXPECT_LT(side("0.5"), -0.01);
}

TEST(Vortex, TurnsItsCoreAtItsSpeed) {
  const Scene scene = with(withInfluence(oneBurst(), "vortex",
                                         {"vortex.angular_speed=0.25", "vortex.core_radius=10",
                                          "vortex.inward_speed=0", "vortex.air_drag=900"}),
                           {"emitter.speed=0", "emitter.position=1,0,0", "scene.substeps=16"});
  // A quarter turn in a second, counter-clockwise seen from above: from +x to -z.
  const Vec3d end = positionOf(onlyGroup(simulate(scene, 25)), 0);
  EXPECT_NEAR(std::atan2(-end.z, end.x), kPi / 2, 0.01);
  EXPECT_NEAR(std::hypot(end.x, end.z), 1, 0.01);
}

TEST(Vortex, BeyondTheCoreTheSpeedFallsWithTheDistance) {
  const auto driftAt = [](const char* place) {
    const Scene scene =
        with(withInfluence(oneBurst(), "vortex",
                           {"vortex.angular_speed=0.25", "vortex.core_radius=2", "vortex.inward_speed=1",
                            "vortex.axial_speed=3", "vortex.air_drag=1000"}),
             {"emitter.speed=0", std::string("emitter.position=") + place, "scene.frame_rate=100"});
    return velocityOf(onlyGroup(simulate(scene, 2)), 0);
  };
  const double edge = 2 * kPi * 0.25 * 2;
  const Vec3d inner = driftAt("1,0,0"), outer = driftAt("8,0,0");
  EXPECT_NEAR(inner.z, -edge / 2, 0.03);
  EXPECT_NEAR(inner.x, -0.5, 0.03);
  EXPECT_NEAR(inner.y, 3, 0.03);
  EXPECT_NEAR(outer.z, -edge / 4, 0.03);
  EXPECT_NEAR(outer.x, -0.25, 0.03);
  EXPECT_NEAR(outer.y, 0.75, 0.03);
}

// Each particle keeps a push of its own, and they fill the box of the variation evenly.
TEST(Force, VariesWithinItsBoxAndStaysTheSameForEach) {
  constexpr int kCount = 4000;
  const Scene scene =
      with(withInfluence(oneBurst(kCount), "force", {"force.push=1,2,3", "force.variation=0.5,0,2"}),
           {"emitter.speed=0"});
  SceneRun run(scene, std::make_shared<FrameCache>(memoryBudget(scene)));
  const SceneFramePtr half = run.frame(13), whole = run.frame(25);
  Vec3d sum(0.0), squares(0.0);
  for (std::size_t i = 0; i < kCount; ++i) {
    const Vec3d push = velocityOf(onlyGroup(whole), i);
    EXPECT_LT(glm::length(push - 2.0 * velocityOf(onlyGroup(half), i)), 1e-5) << "the same at all times";
    const Vec3d off = push - Vec3d(1, 2, 3);
    EXPECT_LE(std::abs(off.x), 0.5 + 1e-5);
    EXPECT_NEAR(off.y, 0, 1e-5);
    EXPECT_LE(std::abs(off.z), 2 + 1e-5);
    sum += off;
    squares += off * off;
  }
  // Of an even spread of half width h the mean deviates by h / √(3 n), and its square is h² / 3.
  const auto deviation = [](double h) { return h / std::sqrt(3.0 * kCount); };
  EXPECT_NEAR(sum.x / kCount, 0, 4 * deviation(0.5));
  EXPECT_NEAR(sum.z / kCount, 0, 4 * deviation(2));
  EXPECT_NEAR(squares.x / kCount, 0.25 / 3, 0.005);
  EXPECT_NEAR(squares.z / kCount, 4.0 / 3, 0.08);
}

TEST(Pace, BrakesToAHaltAfterTheWayThatItTakes) {
  // v²/2a: 3 units at 3 units per second and a brake of 1.5.
  for (const char* substeps : {"1", "3"}) {
    const Scene scene =
        with(withInfluence(oneBurst(), "speed_limit", {"speed_limit.limits=false", "speed_limit.brake=1.5"}),
             {std::string("scene.substeps=") + substeps});
    Watched run(scene);
    EXPECT_NEAR(run.velocity(25).y, 1.5, 1e-4);
    EXPECT_NEAR(run.position(25).y, 3 - 0.75, 1e-4);
    EXPECT_NEAR(run.position(72).y, 3, 1e-3);
    EXPECT_EQ(run.velocity(72).y, 0);
  }
}

TEST(Pace, WhatIsBeyondALimitDiesAwayWhateverTheSubsteps) {
  for (const char* substeps : {"1", "5"}) {
    const Scene scene =
        with(withInfluence(oneBurst(), "speed_limit", {"speed_limit.max_speed=1", "speed_limit.firmness=3"}),
             {std::string("scene.substeps=") + substeps});
    EXPECT_NEAR(velocityOf(onlyGroup(simulate(scene, 13)), 0).y, 1 + 2 * std::exp(-1.5), 1e-4);
  }
  const Scene slow =
      with(withInfluence(oneBurst(), "speed_limit",
                         {"speed_limit.limits=false", "speed_limit.min_speed=5", "speed_limit.firmness=3"}),
           {"emitter.speed=1"});
  EXPECT_NEAR(velocityOf(onlyGroup(simulate(slow, 13)), 0).y, 5 - 4 * std::exp(-1.5), 1e-4);
}

TEST(Kicks, ComeAsOftenAsTheyShouldAndDoNotDependOnSubsteps) {
  const auto velocities = [](int substeps) {
    return simulate(with(withInfluence(oneBurst(4000), "kicks", {"kicks.rate=4", "kicks.strength=0.5"}),
                         {"emitter.speed=0", "scene.substeps=" + std::to_string(substeps)}),
                    25);
  };
  const SceneFramePtr once = velocities(1), often = velocities(3);
  double squares = 0;
  Vec3d mean(0.0);
  for (std::size_t i = 0; i < 4000; ++i) {
    const Vec3d v = velocityOf(onlyGroup(once), i);
    ASSERT_LT(glm::length(v - velocityOf(onlyGroup(often), i)), 1e-4);
    ASSERT_LT(glm::length(positionOf(onlyGroup(once), i) - positionOf(onlyGroup(often), i)), 1e-4);
    squares += glm::dot(v, v) / 4000;
    mean += v / 4000.0;
  }
  // Four independent kicks of half a unit: a walk whose mean square is 4 × 0.25.
  EXPECT_NEAR(squares, 1, 0.06);
  EXPECT_LT(glm::length(mean), 4 / std::sqrt(4000.0));
}

TEST(Enclosure, NothingEscapesAndBouncesKeepTheirShare) {
  for (const char* shape : {"box", "sphere"}) {
    const Scene scene =
        with(withInfluence(withInfluence(oneBurst(500), "gravity"), "enclosure",
                           {std::string("enclosure.shape=") + shape, "enclosure.position=0,0,0",
                            "enclosure.size=4,4,4", "enclosure.radius=2", "enclosure.bounce=90"}),
             {"emitter.cone=180", "emitter.speed=9"});
    for (const int frame : {10, 60, 200}) {
      const SceneFramePtr simulated = simulate(scene, frame);
      ASSERT_EQ(onlyGroup(simulated).size(), 500U);
      for (std::size_t i = 0; i < 500; ++i) {
        const Vec3d p = positionOf(onlyGroup(simulated), i);
        const bool isIn = shape == std::string("box")
                              ? std::max({std::abs(p.x), std::abs(p.y), std::abs(p.z)}) <= 2 + 1e-5
                              : glm::length(p) <= 2 + 1e-5;
        ASSERT_TRUE(isIn) << shape << " at frame " << frame;
      }
    }
  }
}

TEST(Enclosure, ThrownBackAtHalfTheSpeed) {
  const Scene scene = withInfluence(
      oneBurst(), "enclosure", {"enclosure.position=0,0,0", "enclosure.size=2,2,2", "enclosure.bounce=50"});
  // At 3 units per second the wall at 1 is hit after a third of a second; then half as fast for as long.
  Watched run(scene);
  EXPECT_NEAR(run.velocity(17).y, -1.5, 1e-5);
  EXPECT_NEAR(run.position(17).y, 1 - 1.5 * (16 / 24.0 - 1 / 3.0), 1e-5);
}

TEST(Enclosure, ComesInAgainOnTheOtherSideOrEnds) {
  const Scene scene =
      withInfluence(oneBurst(), "enclosure", {"enclosure.position=0,0,0", "enclosure.size=2,2,2"});
  // After one second it has gone 3: out at 1, in at -1, and another unit on.
  EXPECT_NEAR(positionOf(onlyGroup(simulate(with(scene, {"enclosure.at_wall=wrap"}), 25)), 0).y, 1, 1e-4);
  EXPECT_NEAR(positionOf(onlyGroup(simulate(with(scene, {"enclosure.at_wall=wrap"}), 21)), 0).y, 0.5, 1e-4);
  EXPECT_EQ(onlyGroup(simulate(with(scene, {"enclosure.at_wall=die"}), 8)).size(), 1U);
  EXPECT_EQ(onlyGroup(simulate(with(scene, {"enclosure.at_wall=die"}), 12)).size(), 0U);
}

}  // namespace
}  // namespace comet
