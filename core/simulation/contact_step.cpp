#include "simulation/contact_step.h"

#include "base/stoppable.h"
#include "particles/rolling.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

// What touches others, and moves by less than so much of what free motion from rest would have taken it, lies
// there: its velocity is the one with which it has really moved.
constexpr double kLying = 0.8;
// By less than this it does not move at all, whatever the friction.
constexpr double kCreeping = 0.05;

// The fraction of free motion from rest that is left on the steepest slope on which static friction holds
// what lies there: the sine of its angle, whose tangent is the coefficient.
double heldBy(double staticFriction) {
  return std::max(kCreeping, staticFriction / std::sqrt(1 + staticFriction * staticFriction));
}

// At the end of a small step in which a particle that touches others gained so much speed, units/s. `held` is
// the fraction of free motion that does not count.
void settle(const Vec3d& start, double gained, double length, double held, std::size_t i, Chunk& chunk) {
  const Vec3d path = chunk.position(i) - start;
  const double moved = glm::length(path), free = 0.5 * gained * length;
  if (moved < held * free) {
    chunk.setPosition(i, start);
    chunk.setVelocity(i, Vec3d(0.0));
    setRoll(chunk, i, Vec3d(0.0));
  } else if (moved < kLying * free) {
    chunk.setVelocity(i, path / length);
  }
}

}  // namespace

ContactStep::ContactStep(const FramePlan& plan, Workspaces& workspaces, const Progress& progress)
    : plan_(plan), workspaces_(workspaces), progress_(progress) {}

void ContactStep::add(MovingParticles& particles) {
  moving_.push_back({&particles, count_});
  count_ += particles.size();
  for (const ActingInfluence* acting : particles.schedule().touching) {
    const auto isKnown = [&](const Solving& known) { return known.contact == acting->influence(); };
    if (std::none_of(contacts_.begin(), contacts_.end(), isKnown))
      contacts_.push_back({acting->influence(), ContactSolver(*acting->action().contact()), {}});
  }
}

void ContactStep::describeBodies() {
  bodies_ = ContactBodies(count_);
  for (Solving& contact : contacts_) contact.firmness.assign(count_, 0);
  for (const Moving& moving : moving_) {
    const EmitterPlan& emitter = moving.particles->schedule().emitter;
    parallelForEqual(moving.particles->size(), [&](std::size_t i) {
      bodies_.emitters[moving.first + i] = emitter.emission.emitter;
      bodies_.halfSizes[moving.first + i] =
          static_cast<float>(0.5 * emitter.size->diameter(moving.particles->id(i)));
    });
    for (std::size_t chunk = 0; chunk < moving.particles->chunks(); ++chunk)
      pieces_.push_back({&moving, chunk});
  }
}

void ContactStep::run() {
  if (count_ == 0) return;
  describeBodies();
  for (int number = 0; number < plan_.substeps * plan_.parts; ++number) {
    const SmallStep step = smallStep(plan_, number, plan_.parts);
    stoppableForEqual(pieces_.size(), progress_, [&](std::size_t i) { push(pieces_[i], step); });
    // In the first frame nothing moves yet.
    if (!(step.substep.length > 0)) continue;
    for (Solving& contact : contacts_) contact.solver.solve(bodies_, contact.firmness, step.substep.length);
    stoppableFor(pieces_.size(), progress_, [&](std::size_t i) { meetSurfaces(pieces_[i], step); });
  }
}

void ContactStep::push(const Piece& piece, const SmallStep& step) {
  Workspace& work = workspaceOf(workspaces_);
  MovingParticles& particles = *piece.moving->particles;
  const Masses masses = particles.push(piece.chunk, step, work);
  const Chunk& chunk = work.chunk;
  const FieldSet& present = chunk.present;
  const float* still = present.has(ParticleStore::Still) ? chunk.field(ParticleStore::Still) : nullptr;
  const float* held = present.has(ParticleStore::Held) ? chunk.field(ParticleStore::Held) : nullptr;
  for (std::size_t i = 0; i < chunk.count; ++i) {
    const std::size_t body = piece.first() + i;
    const Vec3d before = work.substepStart.velocity(i), after = chunk.velocity(i);
    bodies_.starts[body] = Vec3(work.substepStart.position(i));
    bodies_.places[body] = Vec3(chunk.position(i));
    bodies_.velocities[body] = Vec3(after);
    bodies_.rolls[body] = Vec3(rollOf(chunk, i));
    bodies_.gained[body] = static_cast<float>(glm::length(after - before));
    const bool isFixed = (still && still[i] != 0) || (held && held[i] > 0);
    bodies_.inverseMasses[body] = isFixed ? 0.0F : static_cast<float>(1 / masses.of(i));
    bodies_.moved[body] = Vec3(0.0F);
    bodies_.touched[body] = 0;
  }
  setFirmness(piece, step, work);
}

// Those that are not born yet, and those that a deflector has ended, touch nobody.
void ContactStep::setFirmness(const Piece& piece, const SmallStep& step, Workspace& work) {
  const MovingParticles& particles = *piece.moving->particles;
  const Chunk& chunk = work.chunk;
  for (const ActingInfluence* acting : particles.schedule().touching) {
    const auto contact = std::find_if(contacts_.begin(), contacts_.end(), [&](const Solving& each) {
      return each.contact == acting->influence();
    });
    const Weights weights = acting->weights(chunk.samples(), step.substep, work.weights);
    for (std::size_t i = 0; i < chunk.count; ++i) {
      const bool lives =
          particles.isBorn(piece.chunk * kChunkSize + i, step) && chunk.field(ParticleStore::Lifetime)[i] > 0;
      contact->firmness[piece.first() + i] =
          lives ? static_cast<float>(std::clamp(weights.of(i), 0.0, 1.0)) : 0.0F;
    }
  }
}

void ContactStep::meetSurfaces(const Piece& piece, const SmallStep& step) {
  Workspace& work = workspaceOf(workspaces_);
  MovingParticles& particles = *piece.moving->particles;
  const std::size_t first = piece.first();
  const Durations durations = particles.meetSurfaces(
      piece.chunk, step,
      {&bodies_.places[first], &bodies_.velocities[first], &bodies_.rolls[first], &bodies_.moved[first]},
      work);
  Chunk& chunk = work.chunk;
  double held = 1;
  for (const ActingInfluence* acting : particles.schedule().touching)
    held = std::min(held, heldBy(acting->action().contact()->staticFriction));
  for (std::size_t i = 0; i < chunk.count; ++i) {
    const std::size_t body = first + i;
    if (bodies_.touched[body] != 0)
      settle(work.substepStart.position(i), static_cast<double>(bodies_.gained[body]), step.substep.length,
             held, i, chunk);
    bodies_.places[body] = Vec3(chunk.position(i));
  }
  turnRolling(durations, work);
  particles.keep(piece.chunk, work);
}

std::vector<ContactStats> ContactStep::stats() {
  std::vector<ContactStats> all;
  for (Solving& contact : contacts_) {
    const ContactSolver::Overlap overlap = contact.solver.overlap(bodies_, contact.firmness);
    all.push_back({contact.contact, overlap.particles, overlap.pairs, overlap.deepest});
  }
  return all;
}

}  // namespace comet
