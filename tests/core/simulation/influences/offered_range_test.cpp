// What moves particles, over the whole range that is offered of it, against closed forms.
//
// Places and velocities are floats, and so are forces, masses, their quotients and what is added to a
// velocity. A tolerance is four roundings for each step, each of at most 2⁻²⁴ of the longest way or the
// highest speed.
#include "support/scenes.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <glm/geometric.hpp>
#include <sstream>

namespace comet {
namespace {

using test::kFrameRate;
using test::oneBurst;
using test::onlyGroup;
using test::secondsAt;
using test::with;
using test::withInfluence;

constexpr int kLast = 49;
const int kFrames[] = {2, 13, kLast};

struct Motion {
  double place = 0, speed = 0;  // along y
};

// Expects the particle that starts upwards at `speed` to move as the closed form says, whatever the substeps.
template <typename ClosedForm>
void expectMotion(const Scene& scene, double speed, const ClosedForm& closedForm) {
  for (const int substeps : {1, 3}) {
    const Scene run =
        with(scene, {"emitter.speed=" + std::to_string(speed), "scene.substeps=" + std::to_string(substeps)});
    SceneRun frames(run, std::make_shared<FrameCache>(memoryBudget(run)));
    for (const int frame : kFrames) {
      const Motion wanted = closedForm(secondsAt(frame));
      // The longest way and the highest speed on the way there.
      double farthest = 0, fastest = std::abs(speed);
      for (int f = 1; f <= frame; ++f) {
        farthest = std::max(farthest, std::abs(closedForm(secondsAt(f)).place));
        fastest = std::max(fastest, std::abs(closedForm(secondsAt(f)).speed));
      }
      const double roundings = 4.0 * (frame - 1) * substeps * std::exp2(-24);
      SCOPED_TRACE(testing::Message() << "frame " << frame << ", substeps " << substeps);
      const SceneFramePtr now = frames.frame(frame);
      EXPECT_NEAR(test::positionOf(onlyGroup(now), 0).y, wanted.place,
                  roundings * (farthest + fastest * secondsAt(frame)) + 1e-30);
      EXPECT_NEAR(test::velocityOf(onlyGroup(now), 0).y, wanted.speed, roundings * fastest + 1e-30);
    }
  }
}

std::string text(double number) {
  std::ostringstream words;
  words.precision(17);
  words << number;
  return words.str();
}

const double kSpeeds[] = {-100000, -30, 0, 0.01, 3, 100000};

TEST(OfferedRange, GravityAcceleratesEvenly) {
  for (const double g : {-10000.0, -1.0, 1e-3, 9.81, 400.0, 10000.0})
    for (const double v : kSpeeds) {
      SCOPED_TRACE(testing::Message() << "gravity " << g << ", speed " << v);
      expectMotion(withInfluence(oneBurst(), "gravity", {"gravity.strength=" + text(g)}), v, [=](double t) {
        return Motion{v * t - g * t * t / 2, v - g * t};
      });
    }
}

TEST(OfferedRange, AForceAcceleratesByItsShareOfTheMass) {
  for (const double push : {-100000.0, 1e-3, 4.0, 100000.0})
    for (const double mass : {0.1, 1.0, 50.0})
      for (const double v : kSpeeds) {
        SCOPED_TRACE(testing::Message() << "push " << push << ", mass " << mass << ", speed " << v);
        const double a = push / mass;
        expectMotion(with(withInfluence(oneBurst(), "force", {"force.push=0," + text(push) + ",0"}),
                          {"emitter.mass=" + text(mass)}),
                     v, [=](double t) {
                       return Motion{v * t + a * t * t / 2, v + a * t};
                     });
      }
}

TEST(OfferedRange, DragIsExponential) {
  for (const double rate : {0.0, 1e-4, 0.5, 10.0, 100.0, 1000.0})
    for (const double v : kSpeeds) {
      SCOPED_TRACE(testing::Message() << "drag " << rate << ", speed " << v);
      expectMotion(withInfluence(oneBurst(), "drag", {"drag.rate=" + text(rate)}), v, [=](double t) {
        return Motion{rate > 0 ? -v * std::expm1(-rate * t) / rate : v * t, v * std::exp(-rate * t)};
      });
    }
}

TEST(OfferedRange, WindIsTakenOnAtItsGrip) {
  for (const double wind : {-10000.0, 0.01, 3.0, 10000.0})
    for (const double airDrag : {1e-4, 1.0, 30.0, 1000.0})
      for (const double v : {-30.0, 0.0, 1000.0}) {
        SCOPED_TRACE(testing::Message() << "wind " << wind << ", airDrag " << airDrag << ", speed " << v);
        expectMotion(withInfluence(oneBurst(), "wind",
                                   {"wind.direction=0,1,0", "wind.speed=" + text(wind),
                                    "wind.air_drag=" + text(airDrag)}),
                     v, [=](double t) {
                       return Motion{wind * t - (v - wind) * std::expm1(-airDrag * t) / airDrag,
                                     wind + (v - wind) * std::exp(-airDrag * t)};
                     });
      }
}

TEST(OfferedRange, GravityAndDragTogetherAreSolvedAsOne) {
  for (const double g : {-10000.0, 9.81, 10000.0})
    for (const double rate : {0.01, 2.0, 1000.0})
      for (const double v : {0.0, 30.0}) {
        SCOPED_TRACE(testing::Message() << "gravity " << g << ", drag " << rate << ", speed " << v);
        const double end = -g / rate;
        expectMotion(withInfluence(withInfluence(oneBurst(), "gravity", {"gravity.strength=" + text(g)}),
                                   "drag", {"drag.rate=" + text(rate)}),
                     v, [=](double t) {
                       return Motion{end * t - (v - end) * std::expm1(-rate * t) / rate,
                                     end + (v - end) * std::exp(-rate * t)};
                     });
      }
}

TEST(OfferedRange, ABrakeStopsAfterTheWayThatItTakes) {
  for (const double brake : {1e-3, 1.5, 40.0, 10000.0, 1e6})
    for (const double v : {0.01, 3.0, 1000.0}) {
      SCOPED_TRACE(testing::Message() << "brake " << brake << ", speed " << v);
      const Scene scene =
          with(withInfluence(oneBurst(), "speed_limit",
                             {"speed_limit.limits=false", "speed_limit.brake=" + text(brake)}),
               {"emitter.speed=" + text(v)});
      SceneRun frames(scene, std::make_shared<FrameCache>(memoryBudget(scene)));
      for (const int frame : kFrames) {
        const double t = std::min(secondsAt(frame), v / brake);
        const SceneFramePtr now = frames.frame(frame);
        // The step in which it comes to rest is taken as if the speed fell evenly over all of it.
        const double lastStep = std::min(v, brake / kFrameRate) / kFrameRate;
        EXPECT_NEAR(test::positionOf(onlyGroup(now), 0).y, v * t - brake * t * t / 2,
                    lastStep / 2 + 1e-5 * v);
        EXPECT_NEAR(test::velocityOf(onlyGroup(now), 0).y, v - brake * t, 1e-5 * v);
      }
    }
}

TEST(OfferedRange, WhatIsBeyondAPaceDiesAway) {
  for (const double firmness : {0.01, 3.0, 20.0, 10000.0})
    for (const double max : {0.0, 1.0, 100000.0})
      for (const double v : {0.5, 30.0, 100000.0}) {
        SCOPED_TRACE(testing::Message() << "firmness " << firmness << ", at most " << max << ", speed " << v);
        const Scene scene = with(
            withInfluence(oneBurst(), "speed_limit",
                          {"speed_limit.max_speed=" + text(max), "speed_limit.firmness=" + text(firmness)}),
            {"emitter.speed=" + text(v)});
        const SceneFramePtr now = test::simulate(scene, kLast);
        const double over = std::max(0.0, v - max) * std::exp(-firmness * secondsAt(kLast));
        EXPECT_NEAR(test::velocityOf(onlyGroup(now), 0).y, std::min(v, max) + over, 1e-5 * v);
      }
}

TEST(OfferedRange, ASwirlTurnsAsFarAsItSays) {
  for (const double turns : {-1000.0, -3.0, 1e-3, 0.5, 11.0, 1000.0})
    for (const double v : {0.01, 2.0, 1000.0}) {
      SCOPED_TRACE(testing::Message() << "turns " << turns << ", speed " << v);
      const Scene scene =
          with(withInfluence(oneBurst(), "bend", {"bend.axis=0,1,0", "bend.angular_speed=" + text(turns)}),
               {"emitter.direction=1,0,0", "emitter.speed=" + text(v)});
      SceneRun frames(scene, std::make_shared<FrameCache>(memoryBudget(scene)));
      for (const int frame : kFrames) {
        const double angle = 2 * kPi * turns * secondsAt(frame), radius = v / (2 * kPi * turns);
        const SceneFramePtr now = frames.frame(frame);
        // Each step turns by an angle that is rounded to a float.
        const double tolerance = 4 * std::abs(angle) * std::exp2(-24) + 1e-5;
        const Vec3d wanted = Vec3d(std::sin(angle), 0, std::cos(angle) - 1) * radius;
        EXPECT_LT(glm::length(test::positionOf(onlyGroup(now), 0) - wanted),
                  tolerance * (std::abs(radius) + v * secondsAt(frame)));
        EXPECT_NEAR(glm::length(test::velocityOf(onlyGroup(now), 0)) / v, 1, 1e-5);
      }
    }
}

TEST(OfferedRange, AVortexLiftsAlongItsAxisAsAWind) {
  for (const double lift : {-10000.0, 0.01, 3.0, 10000.0})
    for (const double airDrag : {1e-3, 1.0, 30.0, 1000.0})
      for (const double v : {-30.0, 0.0, 1000.0}) {
        SCOPED_TRACE(testing::Message() << "lift " << lift << ", airDrag " << airDrag << ", speed " << v);
        expectMotion(withInfluence(oneBurst(), "vortex",
                                   {"vortex.axial_speed=" + text(lift), "vortex.air_drag=" + text(airDrag)}),
                     v, [=](double t) {
                       return Motion{lift * t - (v - lift) * std::expm1(-airDrag * t) / airDrag,
                                     lift + (v - lift) * std::exp(-airDrag * t)};
                     });
      }
}

// In the core, with z the place across the axis as a complex number, z'' = airDrag (-iΩz - z'): two
// exponentials. A step's error is of the second order in what the air turns in it and in what the airDrag
// takes on.
TEST(OfferedRange, AVortexCarriesRoundItsCoreAsItsClosedForm) {
  using Complex = std::complex<double>;
  constexpr int kSubsteps = 32;
  for (const double turns : {-0.5, 1e-3, 0.05, 1.0})
    for (const double airDrag : {1e-3, 0.5, 4.0, 100.0, 1000.0})
      for (const double radius : {1e-2, 1.0, 1e4}) {
        SCOPED_TRACE(testing::Message()
                     << "turns " << turns << ", airDrag " << airDrag << ", radius " << radius);
        const Scene scene =
            with(withInfluence(oneBurst(), "vortex",
                               {"vortex.angular_speed=" + text(turns), "vortex.air_drag=" + text(airDrag),
                                "vortex.inward_speed=0", "vortex.core_radius=" + text(50 * radius)}),
                 {"emitter.speed=0", "emitter.position=" + text(radius) + ",0,0",
                  "scene.substeps=" + std::to_string(kSubsteps)});
        const double omega = 2 * kPi * turns, step = 1 / (kFrameRate * kSubsteps);
        const Complex root = std::sqrt(Complex(airDrag * airDrag / 4, -airDrag * omega));
        const Complex fast = -airDrag / 2 - root, slow = -airDrag / 2 + root;
        SceneRun frames(scene, std::make_shared<FrameCache>(memoryBudget(scene)));
        for (const int frame : kFrames) {
          const double t = secondsAt(frame);
          const Complex z = radius * (fast * std::exp(slow * t) - slow * std::exp(fast * t)) / (fast - slow);
          const Vec3d place = test::positionOf(onlyGroup(frames.frame(frame)), 0);
          const double turned = std::abs(omega) * step;
          const double tolerance = turned * turned +
                                   turned * std::min(1.0, airDrag * step) * (1 + std::abs(omega) * t) +
                                   4.0 * (frame - 1) * kSubsteps * std::exp2(-24);
          // Counter-clockwise seen against the axis: from x to -z.
          EXPECT_LT(std::abs(Complex(place.x, place.z) - z), radius * tolerance) << "frame " << frame;
        }
      }
}

// A particle is never faster than the fastest air, however much that turns in a step.
TEST(OfferedRange, AVortexMakesNothingFasterThanItsAir) {
  for (const double turns : {-1000.0, 0.5, 1000.0})
    for (const double core : {0.001, 1.5, 1e6})
      for (const double pull : {-10000.0, 10000.0})
        for (const double airDrag : {0.001, 4.0, 1000.0}) {
          const Scene scene =
              with(withInfluence(oneBurst(), "vortex",
                                 {"vortex.angular_speed=" + text(turns), "vortex.core_radius=" + text(core),
                                  "vortex.inward_speed=" + text(pull), "vortex.air_drag=" + text(airDrag)}),
                   {"emitter.speed=0", "emitter.position=1,0,0"});
          const double air = std::hypot(2 * kPi * turns * core, pull);
          const SceneFramePtr now = test::simulate(scene, kLast);
          ASSERT_EQ(now->report->stats.living, 1U);
          EXPECT_LT(glm::length(test::velocityOf(onlyGroup(now), 0)), air * (1 + 1e-5))
              << turns << " turns, core " << core << ", pull " << pull << ", airDrag " << airDrag;
        }
}

TEST(OfferedRange, AnAttractorThatIsTheSameEverywhereAcceleratesEvenly) {
  for (const double pull : {-100000.0, -1.0, 1e-3, 8.0, 100000.0})
    for (const double v : {0.0, 3.0, 1000.0}) {
      SCOPED_TRACE(testing::Message() << "strength " << pull << ", speed " << v);
      expectMotion(withInfluence(oneBurst(), "attractor",
                                 {"attractor.falloff=constant", "attractor.position=0,1000000,0",
                                  "attractor.core_radius=0", "attractor.strength=" + text(pull)}),
                   v, [=](double t) {
                     return Motion{v * t + pull * t * t / 2, v + pull * t};
                   });
    }
}

// On a circle on which the pull is what holds it there, at one radian a second whatever the strength. A step
// of a second-order method is off by the square of the angle that it turns by.
TEST(OfferedRange, AnAttractorHoldsOnACircle) {
  const struct {
    const char* law;
    double falls;  // the pull is the strength over the distance to this power
  } laws[] = {{"constant", 0}, {"inverse", 1}, {"inverse_square", 2}};
  for (const auto& [law, falls] : laws)
    for (const double strength : {1e-3, 0.7, 40.0, 100000.0}) {
      SCOPED_TRACE(testing::Message() << law << ", strength " << strength);
      const double radius = std::pow(strength, 1 / (falls + 1));
      const Scene scene = with(
          withInfluence(oneBurst(), "attractor",
                        {"attractor.position=0,0,0", "attractor.core_radius=0",
                         std::string("attractor.falloff=") + law, "attractor.strength=" + text(strength)}),
          {"emitter.position=" + text(radius) + ",0,0", "emitter.speed=" + text(radius)});
      SceneRun frames(scene, std::make_shared<FrameCache>(memoryBudget(scene)));
      for (const int frame : kFrames) {
        const double angle = secondsAt(frame), off = 1 / (kFrameRate * kFrameRate);
        const Vec3d wanted = Vec3d(std::cos(angle), std::sin(angle), 0) * radius;
        EXPECT_LT(glm::length(test::positionOf(onlyGroup(frames.frame(frame)), 0) - wanted),
                  radius * off * (1 + angle))
            << "frame " << frame;
      }
    }
}

// Deep within the core the pull grows with the distance: it swings at the root of strength over core to the
// law's power.
TEST(OfferedRange, AnAttractorsCoreIsASpring) {
  const struct {
    const char* law;
    double power;
  } laws[] = {{"constant", 1}, {"inverse", 2}, {"inverse_square", 3}};
  for (const auto& [law, power] : laws)
    for (const double core : {1e-2, 1.0, 50.0, 1e4}) {
      SCOPED_TRACE(testing::Message() << law << ", core " << core);
      const double strength = std::min(100000.0, std::pow(core, power));
      const double rate = std::sqrt(strength / std::pow(core, power)), far = 1e-4 * core;
      const Scene scene = with(
          withInfluence(oneBurst(), "attractor",
                        {"attractor.position=0,0,0", "attractor.core_radius=" + text(core),
                         std::string("attractor.falloff=") + law, "attractor.strength=" + text(strength)}),
          {"emitter.position=" + text(far) + ",0,0", "emitter.speed=0"});
      SceneRun frames(scene, std::make_shared<FrameCache>(memoryBudget(scene)));
      for (const int frame : kFrames) {
        const double angle = rate * secondsAt(frame), off = std::pow(rate / kFrameRate, 2);
        EXPECT_NEAR(test::positionOf(onlyGroup(frames.frame(frame)), 0).x, far * std::cos(angle),
                    far * (off * (1 + angle) + 1e-5))
            << "frame " << frame;
      }
    }
}

// Each span of time holds one kick, at a moment that is the particle's own.
TEST(OfferedRange, KicksAddUpToTheirNumber) {
  for (const double rate : {0.5, 1.0, 24.0, 1000.0})
    for (const double strength : {-10000.0, 1e-3, 2.0, 10000.0})
      for (const double mass : {0.1, 1.0, 50.0}) {
        SCOPED_TRACE(testing::Message() << "rate " << rate << ", strength " << strength << ", mass " << mass);
        const Scene scene = with(
            withInfluence(oneBurst(), "kicks",
                          {"kicks.cone=0", "kicks.rate=" + text(rate), "kicks.strength=" + text(strength)}),
            {"emitter.speed=0", "emitter.mass=" + text(mass)});
        const SceneFramePtr now = test::simulate(scene, kLast);
        const double seconds = secondsAt(kLast), kicks = rate * seconds, each = strength / mass;
        const double roundings = 4 * (kicks + kLast) * std::exp2(-24);
        EXPECT_NEAR(test::velocityOf(onlyGroup(now), 0).y, kicks * each, std::abs(kicks * each) * roundings);
        // From the ends of the spans to their beginnings.
        const double latest = each * seconds * (kicks - 1) / 2, earliest = each * seconds * (kicks + 1) / 2;
        const double slack = std::abs(earliest) * roundings;
        EXPECT_GE(test::positionOf(onlyGroup(now), 0).y, std::min(latest, earliest) - slack);
        EXPECT_LE(test::positionOf(onlyGroup(now), 0).y, std::max(latest, earliest) + slack);
      }
}

// Alone, with a target straight ahead and far away: it accelerates evenly until what it lacks of its speed,
// times how keen it is (4 /s), is less than the strength; from then on what it lacks dies away at that rate.
TEST(OfferedRange, AFlockComesUpToItsSpeedAsItsClosedForm) {
  constexpr double kKeenness = 4;
  for (const double max : {0.01, 4.0, 10000.0})
    for (const double strength : {1e-3, 6.0, 10000.0}) {
      SCOPED_TRACE(testing::Message() << "at most " << max << ", strength " << strength);
      const Scene scene =
          with(withInfluence(
                   oneBurst(), "flock",
                   {"flock.target=seek", "flock.position=0,100000,0", "flock.target_range=1000000",
                    "flock.slowing_radius=0", "flock.wander=0", "flock.min_speed=0", "flock.look_ahead=0",
                    "flock.max_speed=" + text(max), "flock.target_strength=" + text(strength)}),
               {"emitter.speed=0", "scene.substeps=8"});
      const double even = std::max(0.0, (max - strength / kKeenness) / strength);
      SceneRun frames(scene, std::make_shared<FrameCache>(memoryBudget(scene)));
      for (const int frame : kFrames) {
        const double t = secondsAt(frame), reached = strength * even;
        const double wanted =
            t < even ? strength * t : max - (max - reached) * std::exp(-kKeenness * (t - even));
        // Of the first order: what it lacks is taken as it is when a substep begins.
        EXPECT_NEAR(test::velocityOf(onlyGroup(frames.frame(frame)), 0).y, wanted,
                    kKeenness / (kFrameRate * 8) * max + 1e-5 * max)
            << "frame " << frame;
      }
    }
}

TEST(OfferedRange, AFlockHoldsItsSpeedsAndTurnsNoFaster) {
  for (const double min : {0.0, 1.0, 10000.0})
    for (const double turn : {0.0, 30.0, 240.0, 36000.0})
      for (const double speed : {0.01, 3.0, 10000.0}) {
        SCOPED_TRACE(testing::Message() << "at least " << min << ", turns " << turn << ", speed " << speed);
        const double max = std::max(min, 4.0);
        const Scene scene =
            with(withInfluence(oneBurst(), "flock",
                               {"flock.target=seek", "flock.position=100000,0,0",
                                "flock.target_range=1000000", "flock.target_strength=10000", "flock.wander=0",
                                "flock.look_ahead=0", "flock.min_speed=" + text(min),
                                "flock.max_speed=" + text(max), "flock.turn_rate=" + text(turn)}),
                 {"emitter.speed=" + text(speed), "scene.substeps=4"});
        SceneRun frames(scene, std::make_shared<FrameCache>(memoryBudget(scene)));
        for (const int frame : kFrames) {
          const Vec3d v = test::velocityOf(onlyGroup(frames.frame(frame)), 0);
          EXPECT_GE(glm::length(v), min * (1 - 1e-5));
          EXPECT_LE(glm::length(v), max * (1 + 1e-5));
          const double turned = std::acos(std::clamp(v.y / glm::length(v), -1.0, 1.0));
          // The limit is that of the speed with which a substep begins: one that slows down turns a little
          // farther in it.
          const double substep = 1 / (kFrameRate * 4);
          EXPECT_LE(turned, radians(turn) * (secondsAt(frame) + 2 * substep)) << "frame " << frame;
        }
      }
}

TEST(OfferedRange, ALifetimeEndsOnItsFrame) {
  for (const double lifetime : {0.001, 0.04, 0.49, 0.51, 1.99, 3600.0, 100000.0}) {
    const Scene scene = with(oneBurst(), {"emitter.lifetime=" + text(lifetime)});
    for (const int frame : kFrames) {
      const bool lives = secondsAt(frame) < lifetime;
      EXPECT_EQ(test::simulate(scene, frame)->report->stats.living, lives ? 1U : 0U)
          << lifetime << ", " << frame;
    }
  }
}

TEST(OfferedRange, BirthsAreTheRateTimesTheTime) {
  for (const double rate : {0.01, 0.7, 24.0, 1000.0, 50000.0}) {
    const Scene scene = with(test::starting(), {"emitter.rate=" + text(rate), "emitter.lifetime=100000",
                                                "scene.max_particles=200000"});
    for (const int frame : kFrames)
      EXPECT_NEAR(static_cast<double>(test::simulate(scene, frame)->report->stats.living),
                  rate * secondsAt(frame), 1 + 1e-9)
          << rate << ", " << frame;
  }
}

}  // namespace
}  // namespace comet
