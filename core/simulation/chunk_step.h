// One chunk of an emitter's particles on its way through a frame's step.
#pragma once

#include "simulation/deflectors/deflect.h"
#include "simulation/motion/forces.h"
#include "simulation/schedule.h"

#include <map>
#include <memory>
#include <tbb/enumerable_thread_specific.h>
#include <vector>

namespace comet {

struct CardRoom;

// What a thread needs for one chunk at a time.
struct Workspace {
  Chunk chunk;
  Forces forces;
  std::array<double, kChunkSize> durations;
  std::array<double, kChunkSize> masses;
  ChunkArray weights;
  SubstepStart substepStart;
  std::array<double, kChunkSize> radii;
  std::vector<ActingDeflector> deflectors;
  std::vector<ChunkArray> deflectorWeights;  // as many as there are deflectors, or more
  std::map<ItemId, DeflectionCount> deflections;
  SubstepStart stepStart;           // of sources
  std::shared_ptr<CardRoom> cards;  // for the points of cards, once there are any; no other has it
};

using Workspaces = tbb::enumerable_thread_specific<std::unique_ptr<Workspace>>;

// The calling thread's own.
Workspace& workspaceOf(Workspaces& workspaces);

inline std::size_t chunkCount(std::size_t particles, std::size_t size = kChunkSize) {
  return (particles + size - 1) / size;
}

inline std::size_t chunkLength(std::size_t particles, std::size_t chunk, std::size_t size = kChunkSize) {
  return std::min(size, particles - chunk * size);
}

// With `fields`, of which those that the store lacks are zero.
void loadChunk(const ParticleStore& store, FieldSet fields, std::size_t first, std::size_t count,
               Chunk& chunk);

// Stores what has become of the particles, in the store's fields from `from` on.
void storeChunk(const Chunk& chunk, ParticleStore::Field from, std::size_t first, ParticleStore& store);

// What is left of a chunk after a step.
struct Survivors {
  std::size_t count = 0;
  std::size_t lost = 0;  // would live, but their place or velocity is no number any more
};

// Writes the particles that still live, in their order, from `target` on.
Survivors storeLiving(const Chunk& chunk, ParticleStore& store, std::size_t target);

// One of the steps of equal length that a frame's step is made of: a substep, or a part of one.
struct SmallStep {
  Substep substep;  // its times, and which substep of the frame's step it is or belongs to
  int number = 0;   // among all small steps of the frame's step

  // Seconds since the frame's step began.
  double begin() const { return number * substep.length; }
  double end() const { return (number + 1) * substep.length; }
};
SmallStep smallStep(const FramePlan& plan, int number, int partsOfSubstep = 1);

// In what follows `births` are those of particles that are born in the frame's step, seconds since it began,
// each of which moves from then on; null for those that there were. `paths` are those of a source, or null.

// The whole of a frame's step for particles that do not look at others meanwhile.
void advance(const FramePlan& plan, const Schedule& schedule, const double* births, Workspace& work,
             ParentPath* paths);

// The pieces of it. Notes where particles are as a small step begins, and where they will be in its middle.
Durations beginStep(const Schedule& schedule, const SmallStep& step, const double* births, Workspace& work);
// Lets influences act on particles on their way through it.
void push(const Schedule& schedule, const Substep& substep, const Durations& durations, const Masses& masses,
          Workspace& work);
// Lists the deflectors that they may meet in it, in `work.deflectors`.
void setDeflectors(const Schedule& schedule, const Substep& substep, Workspace& work);
// Lets them meet deflectors on that way.
void meetSurfaces(const Schedule& schedule, const Substep& substep, const Durations& durations,
                  Workspace& work);
// Turns those that roll, as they did on average.
void turnRolling(const Durations& durations, Workspace& work);
// What is left to do when all small steps are done: ages, bounds, and paths from `work.stepStart`.
void endStep(const FramePlan& plan, const Schedule& schedule, const double* births, Workspace& work,
             ParentPath* paths);

// Derived again in each step, since it is not stored.
Masses massesOf(const MassRule& rule, Workspace& work);

// Sets by how much particles are shown elsewhere at the end of the frame's step.
void displace(const FramePlan& plan, const Schedule& schedule, Workspaces& workspaces, ParticleStore& store,
              const Progress& progress);

}  // namespace comet
