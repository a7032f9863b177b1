// Everything about one particle, and how the particles of an emitter are spread: for reading numbers off an
// effect.
#pragma once

#include "particles/arrival.h"
#include "particles/lineage.h"
#include "scene/scene.h"
#include "simulation/frame/scene_frame.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace comet {

// What an influence does to a particle at a moment.
struct ProbedInfluence {
  ItemId influence = 0;
  double response = 0;      // 1 for 100 %
  Vec3d acceleration{0.0};  // units per second squared, mass and response counted in
};

// Another particle that it touches by a contact.
struct ProbedTouch {
  ParticleId other = 0;
  Vec3d at{0.0};     // where they touch
  double depth = 0;  // of the overlap, as a fraction of the smaller one's radius; negative for a slight gap
};

struct ProbedParticle {
  ParticleId id = 0;
  ItemId emitter = 0;
  double age = 0, lifetime = 0;  // seconds; an endless lifetime is infinite
  Vec3d position{0.0}, velocity{0.0};
  double mass = 1;
  Lineage lineage{};                // of a child
  std::vector<int> rulesFired;      // how often each of its emitter's rules has, where that is remembered
  bool isStill = false;             // held by a rule
  Arrival arrival{};                // at a point of its own
  std::optional<double> stretch{};  // of a card: of its longest edge, as a fraction of its length
  std::vector<ProbedInfluence> influences;  // in the scene's order
  std::vector<ProbedTouch> touches;         // in the order of the frame's groups, each other one once
};

// The particle of this identity in a frame; nothing if it is not there.
std::optional<ProbedParticle> probeParticle(const Scene& scene, const SceneFrame& frame, ParticleId id);

// What a voxel of a gas holds.
struct ProbedVoxel {
  ItemId gas = 0;
  std::array<std::size_t, 3> voxel{};  // its place along each axis
  Vec3d middle{0.0};
  double edge = 0;  // of it, units
  double density = 0;
  double temperature = 0;      // above the air's, kelvin
  Vec3d velocity{0.0};         // units per second
  std::optional<double> fuel;  // where the gas carries any
  std::optional<double> age;   // seconds, where the gas carries ages and there is any of it
  std::optional<Vec3d> color;  // linear, where it carries colors and there is any of it
};

// The voxel of a gas in which a position lies; nothing if it lies outside, or the gas is not there.
std::optional<ProbedVoxel> probeGas(const SceneFrame& frame, ItemId gas, const Vec3d& position);

struct PathPoint {
  int frame = 0;
  Vec3d position{0.0};
};

// Where the particle was in each of the frames that has it, in their order.
std::vector<PathPoint> pathOf(ParticleId id, const std::vector<SceneFramePtr>& frames);

// Of a path: the point with the greatest height, the first of several.
PathPoint highestPoint(const std::vector<PathPoint>& path);

// Numbers counted in equal steps from the least to the most of them.
struct Spread {
  double min = 0, max = 0, mean = 0;
  std::vector<int> counts;
};

constexpr std::size_t kSpreadSteps = 24;

// An empty list gives no counts.
Spread spreadOf(const std::vector<double>& numbers);

struct EmitterSpreads {
  Spread age, speed;  // of the particles alive in the frame: seconds, units per second
  Spread highest;     // the greatest height of each of them over all the frames given, units
  Spread highestAge;  // its age at that height, seconds
};

// `frame` is one of `frames`, which are in order.
EmitterSpreads spreadsOf(ItemId emitter, const SceneFrame& frame, const std::vector<SceneFramePtr>& frames);

}  // namespace comet
