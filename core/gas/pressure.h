// The pressure that makes a velocity free of divergence, so that gas neither piles up nor thins out.
//
// Conjugate gradients with a multigrid cycle as preconditioner. All sums are made in a fixed order: the
// number of threads changes no bit of a result.
#pragma once

#include "base/progress.h"
#include "gas/pressure_problem.h"

namespace comet {

struct PressureResult {
  int rounds = 0;       // of conjugate gradients
  double before = 0;    // the largest divergence of a voxel before, per second
  double residual = 0;  // and the largest error that is left, per second
  bool isReached = true;
};

class PressureSolver {
 public:
  explicit PressureSolver(std::shared_ptr<const PressureProblem> problem);
  PressureSolver(const GasGrid& grid, GasSolids solids)
      : PressureSolver(pressureProblem(grid, std::move(solids))) {}

  // Takes the gradient of a pressure off the velocity, so that each voxel's divergence becomes `expansion`
  // (per second, per voxel; may be empty for none). Ends when the largest error is below `tolerance` times
  // the largest before, or after `mostRounds`. Where all walls are closed, what no velocity could give is
  // left out: the mean. Throws Error(Cancelled).
  PressureResult project(GasVelocity& velocity, const GasChannel& expansion, double tolerance, int maxRounds,
                         const Progress& progress);

  // The flow out of each voxel over its volume, per second, counting what is solid with its own velocity.
  GasChannel divergence(const GasVelocity& velocity) const;

 private:
  void removeMeans(LevelNumbers& values) const;
  // Sets residual_ to what the divergence lacks of the expansion.
  void findLack(const GasVelocity& velocity, const GasChannel& expansion);
  // Turns direction_ towards conditioned_, keeping so much of what it was, and finds product_ = A *
  // direction_; the sum of the products of the two.
  double turnDirection(float keep);
  // Goes so many times direction_; the largest residual there.
  double goAlongDirection(float far);
  void takeGradient(GasVelocity& velocity) const;

  std::shared_ptr<const PressureProblem> problem_;
  Multigrid multigrid_;
  LevelNumbers pressure_, residual_, direction_, product_, conditioned_;
};

}  // namespace comet
