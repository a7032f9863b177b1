#include "simulation/moving_particles.h"

#include "particles/rolling.h"

#include <memory>
#include <utility>

namespace comet {

MovingParticles::MovingParticles(const FramePlan& plan, const Schedule& schedule, ParticleStore particles,
                                 std::vector<double> births)
    : plan_(plan), schedule_(schedule), particles_(std::move(particles)), births_(std::move(births)) {
  if (schedule.emitter.isSource) before_ = particles_.copy();
  const MassRule& mass = schedule.emitter.emission.mass;
  if (mass.isUniform()) return;
  masses_.resize(size());
  const auto work = std::make_unique<Workspace>();
  for (std::size_t chunk = 0; chunk < chunks(); ++chunk) {
    load(particles_, chunk, *work);
    const Masses masses = massesOf(mass, *work);
    for (std::size_t i = 0; i < work->chunk.count; ++i) masses_[chunk * kChunkSize + i] = masses.of(i);
  }
}

void MovingParticles::load(const ParticleStore& particles, std::size_t chunk, Workspace& work) const {
  loadChunk(particles, particles.fields(), chunk * kChunkSize, chunkLength(size(), chunk), work.chunk);
  if (!births_.empty()) work.chunk.startInGroup.reset();
}

Masses MovingParticles::push(std::size_t chunk, const SmallStep& step, Workspace& work) {
  load(particles_, chunk, work);
  const Durations durations = beginStep(schedule_, step, births(chunk), work);
  const Masses masses{schedule_.emitter.emission.mass.uniform(),
                      masses_.empty() ? nullptr : masses_.data() + chunk * kChunkSize};
  comet::push(schedule_, step.substep, durations, masses, work);
  // Places and velocities stay what they were: who meets surfaces asks where its way began.
  storeChunk(work.chunk, ParticleStore::Age, chunk * kChunkSize, particles_);
  return masses;
}

Durations MovingParticles::meetSurfaces(std::size_t chunk, const SmallStep& step, const Touched& touched,
                                        Workspace& work) const {
  load(particles_, chunk, work);
  const Durations durations = beginStep(schedule_, step, births(chunk), work);
  for (std::size_t i = 0; i < work.chunk.count; ++i) {
    work.chunk.setPosition(i, Vec3d(touched.places[i]));
    work.chunk.setVelocity(i, Vec3d(touched.velocities[i]));
    setRoll(work.chunk, i, Vec3d(touched.rolls[i]));
    const double length = durations.of(i);
    work.substepStart.push(i, length > 0 ? Vec3d(touched.moved[i]) / length : Vec3d(0.0));
  }
  comet::meetSurfaces(schedule_, step.substep, durations, work);
  return durations;
}

void MovingParticles::keep(std::size_t chunk, const Workspace& work) {
  storeChunk(work.chunk, ParticleStore::PositionX, chunk * kChunkSize, particles_);
}

void MovingParticles::end(std::size_t chunk, Workspace& work, ParentPath* paths) const {
  if (paths) {
    load(*before_, chunk, work);
    work.stepStart.take(work.chunk);
  }
  load(particles_, chunk, work);
  endStep(plan_, schedule_, births(chunk), work, paths);
}

}  // namespace comet
