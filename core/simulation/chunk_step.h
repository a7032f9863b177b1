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
  SubstepStart stepStart;  // of sources
};

using Workspaces = tbb::enumerable_thread_specific<std::unique_ptr<Workspace>>;

// The calling thread's own.
Workspace& workspaceOf(Workspaces& workspaces);

inline std::size_t chunkCount(std::size_t particles) { return (particles + kChunkSize - 1) / kChunkSize; }

inline std::size_t chunkLength(std::size_t particles, std::size_t chunk) {
  return std::min(kChunkSize, particles - chunk * kChunkSize);
}

// With `fields`, of which those that the store lacks are zero.
void loadChunk(const ParticleStore& store, FieldSet fields, std::size_t first, std::size_t count,
               Chunk& chunk);

// What is left of a chunk after a step.
struct Survivors {
  std::size_t count = 0;
  std::size_t lost = 0;  // would live, but their place or velocity is no number any more
};

// Writes the particles that still live, in their order, from `target` on.
Survivors storeLiving(const Chunk& chunk, ParticleStore& store, std::size_t target);

// Moves particles that existed before the step. `ways` are those of a source, or null.
void advanceOld(const FramePlan& plan, const Schedule& schedule, Workspace& work, ParentPath* paths);

// Moves particles born during the step, each from its own birth on. `births` are seconds since the step's
// start.
void advanceNew(const FramePlan& plan, const Schedule& schedule, const double* births, Workspace& work,
                ParentPath* paths);

// Sets by how much particles are shown elsewhere at the end of the frame's step.
void displace(const FramePlan& plan, const Schedule& schedule, Workspaces& workspaces, ParticleStore& store,
              const Progress& progress);

}  // namespace comet
