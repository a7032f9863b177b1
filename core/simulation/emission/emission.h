// Births of one emitter during one frame's step.
//
// Births are placed in continuous time: each has its own moment inside the step, and its place on the shape
// is taken where the shape is at that moment, so that a fast emitter leaves neither gaps nor pulses.
#pragma once

#include "base/random.h"
#include "particles/particle_frame.h"
#include "scene/scene.h"
#include "simulation/emission/shape.h"
#include "simulation/influences/influence.h"

#include <cstdint>
#include <vector>

namespace comet {

struct Varied {
  double value = 0;
  double variation = 0;

  // A number in [value - variation, value + variation) for `unit` in [-1, 1).
  double pick(double unit) const { return value + variation * unit; }
};

// Births at one moment of a step.
struct BurstNow {
  double time = 0;  // seconds since the step's start
  std::uint64_t count = 0;
};

// Everything that births in one step depend on, already evaluated.
struct EmissionPlan {
  std::uint32_t emitter = 0;
  std::uint64_t randomKey = 0;
  double length = 0;       // of the step, seconds
  double rateAtStart = 0;  // births per second, changing evenly over the step
  double rateAtEnd = 0;
  std::vector<BurstNow> bursts;
  Shape shape;
  std::vector<Vec3d> places;  // along the step at equal times; one if the shape rests
  std::vector<Mat3d> turns;   // as places
  Vec3d direction{0, 1, 0};
  double cone = 0;  // radians
  Varied speed;
  Varied lifetime;

  void describe(Hasher& hasher) const;
};

EmissionPlan planEmission(const Item& emitter, std::uint64_t sceneSeed, double frameRate,
                          const FrameTime& time);

// When the births of a step happen.
struct BirthTimes {
  std::vector<double> times;  // seconds since the step's start, each in (0, length] (bursts: [0, length])
  std::uint64_t wanted = 0;   // how many the plan asks for, which may be more than there are times
  BirthState after;           // as if all of them had happened
};

// Lists at most `most` births: a plan may ask for more than any memory holds.
BirthTimes birthTimes(const EmissionPlan& plan, const BirthState& before, std::uint64_t most);

// Puts the particle of birth number `birth`, born `time` seconds into the step, at `index` of the store:
// where it is born, as fast as it is thrown, at age zero.
void placeBirth(const EmissionPlan& plan, std::uint64_t birth, double time, ParticleStore& particles,
                std::size_t index);

// Births of one frame, on average.
struct ExpectedBirths {
  double fromRate = 0;
  double fromBursts = 0;

  double all() const { return fromRate + fromBursts; }
};

// How many births are to be expected on average in each frame of the range, to show before anything is
// simulated. The rate's keys are followed at whole frames; on the first frame there are bursts only.
std::vector<ExpectedBirths> expectedBirths(const Item& emitter, const FrameRange& range, double frameRate);

}  // namespace comet
