// Births of one emitter during one frame's step.
//
// Births are placed in continuous time: each has its own moment inside the step, and its place on the shape
// is taken where the shape is at that moment, so that a fast emitter leaves neither gaps nor pulses.
#pragma once

#include "base/random.h"
#include "scene/scene.h"
#include "simulation/emission/birth_points.h"
#include "simulation/emission/bounds.h"
#include "simulation/emission/child_births.h"
#include "simulation/emission/launch.h"
#include "simulation/emission/mass.h"
#include "simulation/emission/shape.h"
#include "simulation/emission/shape_path.h"
#include "simulation/frame/frame_time.h"
#include "simulation/frame/scene_frame.h"

#include <cstdint>
#include <vector>

namespace comet {

// Particles live for a varied time, or all until the same moment.
struct LifeSpan {
  Varied lifetime;
  bool endsTogether = false;
  double left = 0;  // from the step's start to that moment, seconds; infinity for never

  void describe(Hasher& hasher) const;
};

// Births of a burst that fall into a step.
struct BurstNow {
  double time = 0;     // of the first one, seconds since the step's start
  double spacing = 0;  // seconds from each to the next; 0 if all come at once
  std::uint64_t count = 0;
};

// Everything that births in one step depend on, already evaluated.
struct EmissionPlan {
  std::uint32_t emitter = 0;
  std::uint64_t randomKey = 0;
  double length = 0;     // of the step, seconds
  double emitsFrom = 0;  // the part of the step in which the rate gives births, seconds since its start
  double emitsUntil = 0;
  double rateAtStart = 0;  // births per second, changing evenly over that part
  double rateAtEnd = 0;
  std::vector<BurstNow> bursts;
  std::uint64_t maxAlive = 0;  // of this emitter; 0 for no limit
  Shape shape;
  BirthPoints points;  // on the shape
  ShapePath path;
  double inheritedVelocity = 0;  // fraction of the shape's velocity
  Launch launch;
  LifeSpan life;
  EndBounds bounds;
  MassRule mass;
  ChildRule child;  // of one whose births come from particles; its rate and bursts give none

  void describe(Hasher& hasher) const;
};

// What all random numbers of the scene's births and sources depend on.
std::uint64_t sceneSeed(const Scene& scene);

// What the random numbers of an emitter's births come from, and its wandering.
std::uint64_t emissionKey(const Item& emitter, std::uint64_t sceneSeed, double frame);
std::uint64_t wanderKey(std::uint64_t emissionKey);

// Without its bounds, which may depend on other items.
EmissionPlan planEmission(const Item& emitter, std::uint64_t sceneSeed, double frameRate,
                          const FrameTime& time);

// When the births of a step happen.
struct BirthTimes {
  std::vector<double> times;  // seconds since the step's start, each in (0, length] (bursts: [0, length])
  std::uint64_t wanted = 0;   // how many the plan asks for, which may be more than there are times
  BirthState after;           // as if all of them had happened
};

// Lists at most `max` births: a plan may ask for more than any memory holds.
BirthTimes birthTimes(const EmissionPlan& plan, const BirthState& before, std::uint64_t max);

// Where a particle is born and how it is thrown.
struct Birth {
  Vec3d position{0.0};
  Vec3d velocity{0.0};
  Vec3d launch{0, 1, 0};  // the way it is thrown, of length one, without what the shape hands over
  Vec3d color{1.0};       // of the birth picture
};

Birth birthOf(const EmissionPlan& plan, std::uint64_t birth, double time, const Origin* origin = nullptr);

// Puts the particle of birth number `birth`, born `time` seconds into the step, at `index` of the store:
// where it is born, as fast as it is thrown, at age zero. `origin` is that of a child, otherwise null.
Birth placeBirth(const EmissionPlan& plan, std::uint64_t birth, double time, const Origin* origin,
                 ParticleStore& particles, std::size_t index);

// Births of one frame, on average.
struct ExpectedBirths {
  double fromRate = 0;
  double fromBursts = 0;

  double all() const { return fromRate + fromBursts; }
};

// How many births are to be expected on average in each frame of the range, to show before anything is
// simulated. The rate's keys are followed at whole frames; on the first frame there are bursts only. Births
// that come from another emitter's particles are not foreseen.
std::vector<ExpectedBirths> expectedBirths(const Item& emitter, const FrameRange& range, double frameRate);

// How many are to be expected alive at each frame of the range: what lives from births in it, with nothing
// ended by bounds. In a loop of these frames, what was born in the rounds before is there too.
std::vector<double> expectedLiving(const Item& emitter, const FrameRange& range, double frameRate,
                                   bool isLoop = false);

}  // namespace comet
