// The part of a frame's step in which particles that touch each other move, all of them together.
//
// Each substep is divided into the small steps that the contacts ask for. In each of these influences push
// all particles, contacts push those that overlap apart, and then particles meet deflectors on the way that
// all this takes them; so nothing is pushed through a wall, and what presses against one is held by its
// friction.
#pragma once

#include "simulation/contacts/contact_solver.h"
#include "simulation/frame/step_report.h"
#include "simulation/moving_particles.h"

#include <vector>

namespace comet {

class ContactStep {
 public:
  // Plan, workspaces and progress have to outlive it.
  ContactStep(const FramePlan& plan, Workspaces& workspaces, const Progress& progress);

  // Particles that answer to a contact, which have to outlive it.
  void add(MovingParticles& particles);
  // Throws Error(Cancelled).
  void run();
  // How it stands with each contact at the end.
  std::vector<ContactStats> stats();

 private:
  struct Moving {
    MovingParticles* particles;
    std::size_t first;  // among the bodies
  };
  // A chunk of what moves.
  struct Piece {
    const Moving* moving;
    std::size_t chunk;
    std::size_t first() const { return moving->first + chunk * kChunkSize; }
  };
  struct Solving {
    ItemId contact;
    ContactSolver solver;
    BlockVector<float> firmness;  // of each body, in the last small step
  };

  void describeBodies();
  void push(const Piece& piece, const SmallStep& step);
  void setFirmness(const Piece& piece, const SmallStep& step, Workspace& work);
  void meetSurfaces(const Piece& piece, const SmallStep& step);

  const FramePlan& plan_;
  Workspaces& workspaces_;
  const Progress& progress_;
  std::vector<Moving> moving_;
  std::vector<Piece> pieces_;
  std::vector<Solving> contacts_;  // in the scene's order
  ContactBodies bodies_{0};
  std::size_t count_ = 0;
};

}  // namespace comet
