// What the step that led to a frame did, for those who watch it and for rules.
#pragma once

#include "base/identity.h"
#include "base/vec.h"

#include <array>
#include <cstddef>
#include <cstdint>
#include <memory>
#include <numeric>
#include <string_view>
#include <vector>

namespace comet {

// What a run left out or lost until a frame, which the scene asks for.
struct Losses {
  std::uint64_t refused = 0;  // births that the limit of living particles stopped
  std::uint64_t lost = 0;     // particles whose place or velocity became no number

  bool any() const { return refused + lost > 0; }
};

// What a step consists of, in its order. The stages of emitters come one emitter after the other, sources
// before those whose births come from them.
enum class StepStage : std::uint8_t {
  Gases,    // sources, forces, pressure, and what gases carry
  See,      // influences look at the particles as they are
  Births,   // which births are due
  Touch,    // those that touch each other: all of them, substep by substep
  MoveOld,  // particles that there were: accelerated, integrated, corrected, deflected, ended
  MoveNew,  // those that are born, from their own moments on
  Rules,    // when and then
  Finish,   // what lives on, and where it is shown
};
inline constexpr std::array<std::string_view, 8> kStepStages{"gases",    "see",      "births", "touch",
                                                             "move_old", "move_new", "rules",  "finish"};

struct FrameStats {
  std::uint64_t living = 0;
  std::uint64_t births = 0;
  std::uint64_t deaths = 0;
  std::uint64_t refused = 0;                              // births that the limit of living particles stopped
  Losses losses;                                          // in this and all earlier steps
  std::array<double, kStepStages.size()> milliseconds{};  // of each stage

  double& millisecondsOf(StepStage stage) { return milliseconds[static_cast<std::size_t>(stage)]; }
  double millisecondsOf(StepStage stage) const { return milliseconds[static_cast<std::size_t>(stage)]; }
  double allMilliseconds() const { return std::accumulate(milliseconds.begin(), milliseconds.end(), 0.0); }
};

// What a deflector did.
struct DeflectionStats {
  std::uint32_t deflector = 0;  // its item id
  std::uint64_t hits = 0;       // beginnings of contacts, bounces among them
  std::uint64_t caught = 0;     // particles that were found inside and pushed out
};

// Who touches whom at the end of a step, by one contact.
struct ContactStats {
  std::uint32_t contact = 0;    // its item id
  std::uint64_t particles = 0;  // that take part
  std::uint64_t pairs = 0;      // that touch
  double deepest = 0;           // overlap, as a fraction of the smaller one's radius
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

// How often a rule of an emitter fired.
struct RuleStats {
  std::uint32_t emitter = 0;  // its item id
  std::uint32_t rule = 0;     // index
  std::uint64_t fired = 0;
};

// What became of a gas.
struct GasStats {
  std::uint32_t gas = 0;    // its item id
  std::int32_t halves = 0;  // that its steps were split into
  std::int32_t rounds = 0;  // of its pressure, in all of them
  std::uint16_t wallsMet =
      0;  // bits of GasGrid::wallBit: the open ones that density has come to, where it is cut off
  std::uint16_t missedBy = 0;  // sources that reach none of its voxels
  std::uint64_t voxels = 0;    // of its box
  std::uint64_t filled = 0;    // about how many of them hold anything
  std::uint64_t reset = 0;     // values that were no numbers and became 0
  double divergenceLeft = 0;   // largest error in the last half, per second
  double burntFuel = 0;        // in all voxels
};

// Of the hits of a step, so many are kept: the first ones.
constexpr std::size_t kMaxHitsKept = 50000;

// Finished when it is made; share it between threads freely.
struct StepReport {
  FrameStats stats;
  std::vector<DeflectionStats> deflections;  // of deflectors that did anything, in the scene's order
  std::vector<ContactStats> contacts;        // in the scene's order
  std::vector<SurfaceHit> hits;              // by their times
  std::vector<RuleStats> rules;              // of those that fired
  std::vector<GasStats> gases;               // in the scene's order

  std::size_t bytes() const {
    return sizeof *this + deflections.capacity() * sizeof(DeflectionStats) +
           contacts.capacity() * sizeof(ContactStats) + hits.capacity() * sizeof(SurfaceHit) +
           rules.capacity() * sizeof(RuleStats) + gases.capacity() * sizeof(GasStats);
  }
};

using StepReportPtr = std::shared_ptr<const StepReport>;

}  // namespace comet
