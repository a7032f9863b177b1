// A geometric multigrid cycle for the pressure of gas in a box with obstacles, as a preconditioner
// (McAdams, Sifakis and Teran 2010).
//
// The equation of a voxel is the sum over its six faces of c * (p - q), where q is the pressure behind the
// face and c how much of the face is open. Where there is open air the pressure is 0. Each coarser level has
// half as many voxels along an axis; what faces let through is summed up.
#pragma once

#include "base/grid.h"

#include <array>
#include <cstdint>
#include <vector>

namespace comet {

// What a voxel is to the pressure.
enum class PressureCell : std::uint8_t {
  Solid,  // nothing flows: its pressure does not matter
  Gas,    // its pressure is sought
  Air     // open air, where the pressure is 0
};

// The numbers of one level, all with one layer of voxels more on each side.
struct PressureLevel {
  std::array<std::size_t, 3> counts{};  // without the layers around
  GridLayout layout;
  std::vector<PressureCell> cells;
  std::array<std::vector<float>, 3> open;  // of the face below each voxel along an axis
  std::array<float, 3> whole{};            // of a face that is open altogether
  // For each row along x: whether all of its voxels are gas and all of their faces open altogether.
  std::vector<std::uint8_t> isPlain;

  // Voxels are counted from 1, since 0 is in the layer around.
  std::size_t rowOf(std::size_t y, std::size_t z) const { return layout.index(0, y, z); }
  bool plain(std::size_t y, std::size_t z) const { return isPlain[z * layout.counts[1] + y] != 0; }
  bool hasGas(std::size_t index) const { return cells[index] == PressureCell::Gas; }
};

PressureLevel emptyLevel(const std::array<std::size_t, 3>& counts, const std::array<float, 3>& whole);
// To be called once cells and faces are set.
void findPlainRows(PressureLevel& level);

// result = A * pressure, and 0 where there is no gas.
void applyStencil(const PressureLevel& level, const std::vector<float>& pressure, std::vector<float>& result);

class Multigrid {
 public:
  explicit Multigrid(PressureLevel finest);

  const PressureLevel& finest() const { return levels_.front().grid; }
  // An approximate solution of A * result = right, the same linear and symmetric function of it each time.
  void precondition(const std::vector<float>& right, std::vector<float>& result);

 private:
  struct Level {
    PressureLevel grid;
    std::vector<float> pressure, right;  // of all but the finest
    std::vector<float> residual;
    // One over the sum of the weights by which a voxel hangs on voxels of the next level that are not solid.
    std::vector<float> norm;
    std::array<bool, 3> halves{};  // the axes along which the next level is coarser
  };

  static PressureLevel coarser(const Level& fine);
  static void findNorms(Level& fine, const PressureLevel& coarse);
  // One cycle from `right` of a level to its `pressure`.
  void cycle(std::size_t index, const std::vector<float>& right, std::vector<float>& pressure);
  static void restrictResidual(Level& fine, const std::vector<float>& right,
                               const std::vector<float>& pressure, Level& coarse);
  static void prolong(const Level& coarse, const Level& fine, std::vector<float>& pressure);

  std::vector<Level> levels_;
};

}  // namespace comet
