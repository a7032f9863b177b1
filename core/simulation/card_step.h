// Cards on their way through a frame's step.
//
// The points of a chunk's cards go through it as particles do: influences push them, and they meet
// deflectors, in steps so small that what holds a card together is solved in between. Air that moves acts on
// the faces of cards instead of by drag. Rules, and influences that correct particles, see a card as the
// particle in its middle; what they do to that happens to all of its points.
#pragma once

#include "simulation/cards/card_solver.h"
#include "simulation/chunk_step.h"

#include <cstddef>

namespace comet {

class CardStep {
 public:
  // Plan and schedule have to outlive it; the emitter has to show cards.
  CardStep(const FramePlan& plan, const Schedule& schedule);

  // So many cards a chunk has at most.
  std::size_t chunkSize() const;
  // As advance() of chunk_step.h. Cards whose bodies are not of this kind are born anew where they are.
  void advance(const double* births, Workspace& work, ParentPath* paths) const;

 private:
  const CardRule& rule() const { return *schedule_.emitter.card; }
  // A substep.
  void move(int number, const double* births, const Masses& masses, Workspace& work) const;
  // The durations of cards as those of their points.
  Durations spread(const Durations& durations, CardRoom& room) const;
  // Asks influences what they do to the points in it.
  void askInfluences(const Substep& substep, const Durations& durations, const Masses& masses,
                     Workspace& work) const;
  // How long cards move in a small step; those that a rule holds still do not.
  void setDurations(const SmallStep& step, const double* births, Workspace& work) const;
  void moveSmall(const SmallStep& step, CardRoom& room) const;

  const FramePlan& plan_;
  const Schedule& schedule_;
  CardSolver solver_;
  bool takesPlanes_;  // for surfaces; see CardSurfaces
};

}  // namespace comet
