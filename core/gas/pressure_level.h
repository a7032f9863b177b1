// The equations of the pressure of gas in a box with obstacles, and sweeps that bring a pressure nearer to
// solving them.
//
// The equation of a voxel is the sum over its six faces of c * (p - q), where q is the pressure behind the
// face and c how much of the face is open. Where there is open air the pressure is 0.
#pragma once

#include "base/grid.h"
#include "base/parallel.h"
#include "gas/gas_solids.h"
#include "gas/pressure_rows.h"

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

// A number for each voxel of a level.
using LevelNumbers = BlockVector<float>;

// All numbers have one layer of voxels more on each side, and rows are made longer by solid ones to a whole
// number of vectors.
struct PressureLevel {
  std::array<std::size_t, 3> counts{};  // without the layers around
  GridLayout layout;
  std::vector<PressureCell> cells;
  std::array<LevelNumbers, 3> open;  // of the face below each voxel along an axis
  // Of a face that is open altogether; 0 along an axis of one voxel between closed walls.
  std::array<float, 3> whole{};
  LevelNumbers inverse;  // one over what a voxel's faces let through; 0 if that is nothing
  // For each row along x: whether all of its voxels are gas and all of their faces open altogether.
  std::vector<std::uint8_t> isPlain;

  // Voxels are counted from 1, since 0 is in the layer around.
  std::size_t rowOf(std::size_t y, std::size_t z) const { return layout.index(0, y, z); }
  bool plain(std::size_t y, std::size_t z) const { return isPlain[z * layout.counts[1] + y] != 0; }
  bool hasGas(std::size_t index) const { return cells[index] == PressureCell::Gas; }
  EquationRow equations(std::size_t y, std::size_t z) const;
};

// Nothing but solid.
PressureLevel emptyLevel(const std::array<std::size_t, 3>& counts, const std::array<float, 3>& whole);
// Finds the rest, once cells and faces are set.
void completeLevel(PressureLevel& level);
// That of a gas's own voxels.
PressureLevel levelOf(const GasGrid& grid, const GasSolids& solids);

// So few voxels are done before other threads have begun.
constexpr std::size_t kSerialVoxels = 8192;

// Calls act(y, z, room) for each row of voxels along x, from several threads if there are many; `room` is for
// so many numbers, which are 0 when a thread begins.
template <typename Act>
void forRowsWith(const PressureLevel& level, std::size_t numbers, const Act& act) {
  const std::size_t across = level.counts[1], rows = across * level.counts[2];
  const auto run = [&](std::size_t begin, std::size_t end) {
    std::vector<float> room(numbers, 0.0F);
    for (std::size_t row = begin; row < end; ++row) act(row % across + 1, row / across + 1, room.data());
  };
  if (level.layout.size() < kSerialVoxels)
    run(0, rows);
  else
    runRanges(rows, Shares::Equal, run);
}

// Calls act(y, z).
template <typename Act>
void forRows(const PressureLevel& level, const Act& act) {
  forRowsWith(level, 0, [&act](std::size_t y, std::size_t z, float*) { act(y, z); });
}

// result = A * pressure, and 0 where there is no gas.
void applyStencil(const PressureLevel& level, const LevelNumbers& pressure, LevelNumbers& result);
void applyStencilInRow(const PressureLevel& level, std::size_t y, std::size_t z, const LevelNumbers& pressure,
                       LevelNumbers& result);
// residual = (right - A * pressure) * norm.
void findResidualInRow(const PressureLevel& level, std::size_t y, std::size_t z, const LevelNumbers& pressure,
                       const LevelNumbers& right, const LevelNumbers& norm, LevelNumbers& residual);

// Solves the equations of the voxels of one colour of a chessboard, 0 or 1, in a row, with all others as they
// are.
void smoothRow(const PressureLevel& level, std::size_t y, std::size_t z, const LevelNumbers& right,
               std::size_t colour, LevelNumbers& pressure);
// The same from a pressure of 0.
void smoothRowFromZero(const PressureLevel& level, std::size_t y, std::size_t z, const LevelNumbers& right,
                       std::size_t colour, LevelNumbers& pressure);

}  // namespace comet
