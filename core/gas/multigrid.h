// A geometric multigrid cycle for the pressure of gas in a box with obstacles, as a preconditioner
// (McAdams, Sifakis and Teran 2010).
//
// Each coarser level has half as many voxels along an axis; what faces let through is summed up.
#pragma once

#include "gas/pressure_level.h"

#include <memory>

namespace comet {

// A level, and how its voxels hang on those of the next one.
struct MultigridLevel {
  PressureLevel grid;
  std::array<bool, 3> halves{};  // the axes along which the next level is coarser
  // One over the sum of the weights by which a voxel hangs on voxels of the next level that are not solid; of
  // all levels but the coarsest.
  LevelNumbers norm;
};

// From the finest to the coarsest.
std::vector<MultigridLevel> multigridLevels(PressureLevel finest);

class Multigrid {
 public:
  // The levels may be shared.
  explicit Multigrid(std::shared_ptr<const std::vector<MultigridLevel>> levels);

  const PressureLevel& finest() const { return levels_->front().grid; }
  // An approximate solution of A * result = right, the same linear and symmetric function of it each time.
  void precondition(const LevelNumbers& right, LevelNumbers& result);

 private:
  // What a cycle writes on its way.
  struct Numbers {
    LevelNumbers pressure, right;  // of all but the finest
    LevelNumbers residual;         // of all but the coarsest
  };

  // One cycle from `right` of a level to its `pressure`.
  void cycle(std::size_t index, const LevelNumbers& right, LevelNumbers& pressure);
  // Its parts: smoothing from a pressure of 0 to what is left, from what is left to the right side of the
  // next level, and with that one's pressure back to smoothing in the opposite order, so that the whole is
  // symmetric.
  void descend(std::size_t index, const LevelNumbers& right, LevelNumbers& pressure);
  void restrictResidual(std::size_t index);
  void ascend(std::size_t index, const LevelNumbers& right, LevelNumbers& pressure);
  static void solveCoarsest(const PressureLevel& grid, const LevelNumbers& right, LevelNumbers& pressure);

  std::shared_ptr<const std::vector<MultigridLevel>> levels_;
  std::vector<Numbers> numbers_;  // of each level
};

}  // namespace comet
