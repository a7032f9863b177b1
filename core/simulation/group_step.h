// One emitter's part of a frame's step.
#pragma once

#include "simulation/card_step.h"
#include "simulation/chunk_step.h"
#include "simulation/emission/child_births.h"
#include "simulation/moving_particles.h"
#include "simulation/rules/apply_rules.h"

#include <optional>
#include <vector>

namespace comet {

// Its functions are called in their order here. A child is given its births after its sources are done.
class GroupStep {
 public:
  GroupStep(const FramePlan& plan, const EmitterPlan& emitter, const ParticleGroup* previous,
            const Progress& progress);

  // Of a child: finds the births that follow from what its sources have done in this step. `max` are listed.
  void bear(const std::vector<const GroupStep*>& sources, const std::vector<SurfaceHit>& hits,
            std::size_t max);
  // Lets at most `max` of the births happen, and no more than the emitter may have alive.
  void limitBirths(std::size_t max);
  // Of an emitter whose particles touch others: its particles, for all that touch each other to be moved
  // together before moveOld and addNew take up what has become of them. Births that are known only when the
  // sources are done are not among them; they touch others from the next step on.
  std::vector<MovingParticles*> startTogether();
  // Moves the particles that there were.
  void moveOld(Workspaces& workspaces);
  // Lets those of this step be born, and moves them.
  void addNew(Workspaces& workspaces);
  // Lets the emitter's rules see what has become of its particles in this step.
  void applyRules(const RuleScene& scene);
  ParticleGroup finish(Workspaces& workspaces);

  const EmitterPlan& emitter() const { return emitter_; }
  bool isChild() const { return emitter_.emission.child.isChild(); }
  bool touchesOthers() const { return !schedule_.touching.empty(); }
  bool hasRules() const { return !emitter_.rules.empty(); }
  const RuleOutcome& outcome() const { return outcome_; }
  // Of the particles that there were, those whose age lets them live on.
  std::size_t survivors() const { return offsets_.back(); }
  std::uint64_t wantedBirths() const { return births_.wanted; }
  std::size_t births() const { return births_.times.size(); }
  std::size_t deaths() const {
    return (previous_ ? previous_->particles.size() : 0) - survivors() + earlyDeaths_;
  }
  std::size_t lost() const { return lost_; }

 private:
  void countLost(const std::vector<Survivors>& living) {
    for (const Survivors& chunk : living) lost_ += chunk.lost;
  }

  // Puts so many of those that are born where they are born.
  void place(std::size_t first, std::size_t count, ParticleStore& newborn) const;
  ParticleStore roomFor(std::size_t particles) const;
  // The whole of the frame's step for a chunk, which is loaded.
  void advance(const double* births, Workspace& work, ParentPath* paths) const;

  // Bounds end particles that their age would have let live: what follows them moves up.
  void closeGaps(const std::vector<Survivors>& living);

  const FramePlan& plan_;
  const EmitterPlan& emitter_;
  const Schedule schedule_;
  const ParticleGroup* previous_;
  const Progress& progress_;
  std::optional<CardStep> cards_;
  std::size_t chunkSize_ = kChunkSize;
  std::uint64_t firstBirth_ = 0;
  FieldSet fields_;  // what was remembered goes on, whether or not an influence asks for it now
  BirthTimes births_;
  std::vector<Origin> origins_;    // of a child's births
  std::vector<ParentPath> paths_;  // of a source, by identity
  RuleOutcome outcome_;
  std::vector<std::size_t> offsets_{0};
  std::size_t earlyDeaths_ = 0;
  std::size_t lost_ = 0;
  std::optional<MovingParticles> oldTogether_, newTogether_;
  ParticleStore store_;
};

}  // namespace comet
