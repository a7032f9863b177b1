// All particles of a scene at one frame: what the simulation makes, the cache keeps and the renderer reads.
//
// A frame is finished when it is made and never changes; share it between threads freely.
#pragma once

#include "base/digest.h"
#include "particles/particle_store.h"

#include <cstdint>
#include <memory>
#include <vector>

namespace comet {

// Where an emitter's births stand, so that a run can go on from any frame.
struct BirthState {
  std::uint64_t next = 0;  // number of the next birth
  double carry = 0;        // share of a birth that is due but not yet full, 0 to 1
};

struct ParticleGroup {
  std::uint32_t emitter = 0;  // the emitter's item id
  BirthState births;
  ParticleStore particles;
};

// What a run left out or lost until a frame, which the scene asks for.
struct Losses {
  std::uint64_t refused = 0;  // births that the limit of living particles stopped
  std::uint64_t lost = 0;     // particles whose place or velocity became no number

  bool any() const { return refused + lost > 0; }
};

// What the step that led to a frame did.
struct FrameStats {
  std::uint64_t living = 0;
  std::uint64_t births = 0;
  std::uint64_t deaths = 0;
  std::uint64_t refused = 0;  // births that the limit of living particles stopped
  Losses losses;              // in this and all earlier steps
  double birthMilliseconds = 0;
  double motionMilliseconds = 0;

  double milliseconds() const { return birthMilliseconds + motionMilliseconds; }
};

// What a deflector did in the step that led to a frame.
struct DeflectionStats {
  std::uint32_t deflector = 0;  // its item id
  std::uint64_t hits = 0;       // beginnings of contacts, bounces among them
  std::uint64_t caught = 0;     // particles that were found inside and pushed out
};

// A particle that met a deflector.
struct SurfaceHit {
  double time = 0;  // seconds since the scene's first frame
  ParticleId particle = 0;
  std::uint32_t deflector = 0;  // its item id
  float speed = 0;              // against the surface, units/s
  Vec3 position{0.0F};
  Vec3 normal{0.0F};  // of the surface, towards the particle
};

// How often a rule of an emitter fired in a step.
struct RuleStats {
  std::uint32_t emitter = 0;  // its item id
  std::uint32_t rule = 0;     // index
  std::uint64_t fired = 0;
};

// Of the hits of a frame, so many are kept: the first ones.
constexpr std::size_t kMostHitsKept = 50000;

struct ParticleFrame {
  int frame = 0;
  std::vector<ParticleGroup> groups;  // in the scene's order of emitters
  FrameStats stats;
  std::vector<DeflectionStats> deflections;  // of deflectors that did anything, in the scene's order
  std::vector<SurfaceHit> hits;              // in the step that led here, by their times
  std::vector<RuleStats> rules;              // of those that fired in it

  // Null if the emitter has no group here.
  const ParticleGroup* find(std::uint32_t emitter) const;
  std::size_t bytes() const;
  // A fingerprint of the state: equal for equal particles in equal order, whatever led to them.
  Digest stateDigest() const;
};

using ParticleFramePtr = std::shared_ptr<const ParticleFrame>;

// The frames before one, the newest first.
using Past = std::vector<ParticleFramePtr>;

}  // namespace comet
