// Particles of an emitter that go through a frame's step together with those of others.
#pragma once

#include "simulation/chunk_step.h"

#include <optional>
#include <vector>

namespace comet {

// Either those that there were, or those that are born in the step. Each function may be called for several
// chunks at once; in each small step every chunk is pushed, and then meets surfaces.
class MovingParticles {
 public:
  // Plan and schedule have to outlive it. `births` are seconds since the step began; empty for particles that
  // there were.
  MovingParticles(const FramePlan& plan, const Schedule& schedule, ParticleStore particles,
                  std::vector<double> births);

  ParticleId id(std::size_t i) const { return particles_.ids()[i]; }
  std::size_t size() const { return particles_.size(); }
  std::size_t chunks() const { return chunkCount(size()); }
  const Schedule& schedule() const { return schedule_; }
  // Whether a particle has been born when a small step ends.
  bool isBorn(std::size_t i, const SmallStep& step) const {
    return births_.empty() || births_[i] <= step.end();
  }

  // Moves a chunk through a small step as far as its particles do not look at each other: `work.chunk` is it
  // then, and `work.substepStart` where it was before. Returns what its particles weigh.
  Masses push(std::size_t chunk, const SmallStep& step, Workspace& work);
  // What others have made of the particles of a chunk, one after the other.
  struct Touched {
    const Vec3* places;
    const Vec3* velocities;
    const Vec3* rolls;  // rad/s
    const Vec3* moved;  // by how much they moved each, which happened to it as the small step began
  };
  // Takes it up again where that has led and lets it meet deflectors: `work.chunk` is it then, to be kept.
  // Returns how long its particles live in the step.
  Durations meetSurfaces(std::size_t chunk, const SmallStep& step, const Touched& touched,
                         Workspace& work) const;
  void keep(std::size_t chunk, const Workspace& work);
  // What is left to do when all small steps are done; `work.chunk` is what a chunk has become.
  void end(std::size_t chunk, Workspace& work, ParentPath* paths) const;

 private:
  void load(const ParticleStore& particles, std::size_t chunk, Workspace& work) const;
  const double* births(std::size_t chunk) const {
    return births_.empty() ? nullptr : births_.data() + chunk * kChunkSize;
  }

  const FramePlan& plan_;
  const Schedule& schedule_;
  ParticleStore particles_;
  std::optional<ParticleStore> before_;  // of sources: as they were when the frame's step began
  std::vector<double> births_;
  std::vector<double> masses_;  // empty if they are all alike
};

}  // namespace comet
