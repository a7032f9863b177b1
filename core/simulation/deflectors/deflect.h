// What becomes of particles that meet deflectors during a substep.
//
// Each particle's way is the parabola that its place and velocity at the beginning and its place at the end
// tell. It is followed from hit to hit in continuous time: the next hit is found by going on as far as the
// distance to each surface, and how it may bend, allow (conservative advancement: Mirtich, "Impulse-based
// Dynamic Simulation of Rigid Body Systems", 1996), so that nothing is crossed however thin or fast it is.
// A hit is answered by restitution and Coulomb's friction as an impulse; a particle that rests on a surface
// or slides along it is held there, with friction against what pushes it.
#pragma once

#include "simulation/deflectors/deflector.h"
#include "simulation/frame/scene_frame.h"

#include <cstdint>
#include <glm/geometric.hpp>
#include <vector>

namespace comet {

// What happened at one deflector.
struct DeflectionCount {
  std::uint64_t hits = 0;    // the beginnings of contacts, bounces among them
  std::uint64_t caught = 0;  // particles that were found inside and pushed out
  std::vector<SurfaceHit> list;
};

struct ActingDeflector {
  ItemId id = 0;
  const Deflector* deflector = nullptr;
  Weights weights;  // 0 lets particles pass
  DeflectionCount* count = nullptr;
};

// Where the particles of a chunk were when the substep began, or when they were born in it.
struct SubstepStart {
  alignas(64) std::array<ChunkArray, 6> fields;  // as the first six of the store
  // The speeds that other particles gave them there, which are in their velocities; only if arePushed.
  alignas(64) ChunkArray pushes;
  bool arePushed = false;

  alignas(64) std::array<ChunkArray, 3> rolls;  // if the chunk has them

  void take(const Chunk& chunk) {
    std::copy_n(chunk.fields.begin(), fields.size(), fields.begin());
    arePushed = false;
    if (chunk.present.has(ParticleStore::RollX))
      std::copy_n(chunk.fields.begin() + ParticleStore::RollX, rolls.size(), rolls.begin());
  }
  Vec3d position(std::size_t i) const { return {fields[0][i], fields[1][i], fields[2][i]}; }
  Vec3d velocity(std::size_t i) const { return {fields[3][i], fields[4][i], fields[5][i]}; }
  Vec3d roll(std::size_t i) const { return {rolls[0][i], rolls[1][i], rolls[2][i]}; }
  // For each particle of the chunk.
  void push(std::size_t i, const Vec3d& velocity) {
    for (int axis = 0; axis < 3; ++axis) fields[3 + axis][i] += static_cast<float>(velocity[axis]);
    pushes[i] = static_cast<float>(glm::length(velocity));
    arePushed = true;
  }
};

// `radii` may be null; otherwise half of each particle's size. Changes places, velocities and lifetimes, and
// how long particles have stuck, if that is remembered.
void deflect(const std::vector<ActingDeflector>& deflectors, const SubstepStart& start,
             const Substep& substep, const Durations& durations, const double* radii, Chunk& chunk);

}  // namespace comet
