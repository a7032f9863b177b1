// What moves particles, over the whole range that is offered of it, against closed forms.
//
// Places and velocities are floats, and so are forces, masses, their quotients and what is added to a
// velocity. A tolerance is four roundings for each step, each of at most 2⁻²⁴ of the longest way or the
// highest speed.
#include "support/scenes.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <sstream>

namespace comet {
namespace {

using test::oneBurst;
using test::onlyGroup;
using test::with;
using test::withInfluence;

constexpr double kFrameRate = 24;
constexpr int kLast = 49;
const int kFrames[] = {2, 13, kLast};

double secondsAt(int frame) { return (frame - 1) / kFrameRate; }

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
      const ParticleFramePtr now = frames.frame(frame);
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
    for (const double grip : {1e-4, 1.0, 30.0, 1000.0})
      for (const double v : {-30.0, 0.0, 1000.0}) {
        SCOPED_TRACE(testing::Message() << "wind " << wind << ", grip " << grip << ", speed " << v);
        expectMotion(
            withInfluence(oneBurst(), "wind",
                          {"wind.direction=0,1,0", "wind.speed=" + text(wind), "wind.grip=" + text(grip)}),
            v, [=](double t) {
              return Motion{wind * t - (v - wind) * std::expm1(-grip * t) / grip,
                            wind + (v - wind) * std::exp(-grip * t)};
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
          with(withInfluence(oneBurst(), "pace", {"pace.limits=false", "pace.brake=" + text(brake)}),
               {"emitter.speed=" + text(v)});
      SceneRun frames(scene, std::make_shared<FrameCache>(memoryBudget(scene)));
      for (const int frame : kFrames) {
        const double t = std::min(secondsAt(frame), v / brake);
        const ParticleFramePtr now = frames.frame(frame);
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
    for (const double most : {0.0, 1.0, 100000.0})
      for (const double v : {0.5, 30.0, 100000.0}) {
        SCOPED_TRACE(testing::Message()
                     << "firmness " << firmness << ", at most " << most << ", speed " << v);
        const Scene scene = with(
            withInfluence(oneBurst(), "pace", {"pace.most=" + text(most), "pace.firmness=" + text(firmness)}),
            {"emitter.speed=" + text(v)});
        const ParticleFramePtr now = test::simulate(scene, kLast);
        const double over = std::max(0.0, v - most) * std::exp(-firmness * secondsAt(kLast));
        EXPECT_NEAR(test::velocityOf(onlyGroup(now), 0).y, std::min(v, most) + over, 1e-5 * v);
      }
}

TEST(OfferedRange, ASwirlTurnsAsFarAsItSays) {
  for (const double turns : {-1000.0, -3.0, 1e-3, 0.5, 11.0, 1000.0})
    for (const double v : {0.01, 2.0, 1000.0}) {
      SCOPED_TRACE(testing::Message() << "turns " << turns << ", speed " << v);
      const Scene scene =
          with(withInfluence(oneBurst(), "swirl", {"swirl.axis=0,1,0", "swirl.turns=" + text(turns)}),
               {"emitter.direction=1,0,0", "emitter.speed=" + text(v)});
      SceneRun frames(scene, std::make_shared<FrameCache>(memoryBudget(scene)));
      for (const int frame : kFrames) {
        const double angle = 2 * kPi * turns * secondsAt(frame), radius = v / (2 * kPi * turns);
        const ParticleFramePtr now = frames.frame(frame);
        // Each step turns by an angle that is rounded to a float.
        const double tolerance = 4 * std::abs(angle) * std::exp2(-24) + 1e-5;
        const Vec3d wanted = Vec3d(std::sin(angle), 0, std::cos(angle) - 1) * radius;
        EXPECT_LT(glm::length(test::positionOf(onlyGroup(now), 0) - wanted),
                  tolerance * (std::abs(radius) + v * secondsAt(frame)));
        EXPECT_NEAR(glm::length(test::velocityOf(onlyGroup(now), 0)) / v, 1, 1e-5);
      }
    }
}

TEST(OfferedRange, ALifetimeEndsOnItsFrame) {
  for (const double lifetime : {0.001, 0.04, 0.49, 0.51, 1.99, 3600.0, 100000.0}) {
    const Scene scene = with(oneBurst(), {"emitter.lifetime=" + text(lifetime)});
    for (const int frame : kFrames) {
      const bool lives = secondsAt(frame) < lifetime;
      EXPECT_EQ(test::simulate(scene, frame)->stats.living, lives ? 1U : 0U) << lifetime << ", " << frame;
    }
  }
}

TEST(OfferedRange, BirthsAreTheRateTimesTheTime) {
  for (const double rate : {0.01, 0.7, 24.0, 1000.0, 50000.0}) {
    const Scene scene = with(test::starting(), {"emitter.rate=" + text(rate), "emitter.lifetime=100000",
                                                "scene.most_particles=200000"});
    for (const int frame : kFrames)
      EXPECT_NEAR(static_cast<double>(test::simulate(scene, frame)->stats.living), rate * secondsAt(frame),
                  1 + 1e-9)
          << rate << ", " << frame;
  }
}

}  // namespace
}  // namespace comet
