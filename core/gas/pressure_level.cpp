#include "gas/pressure_level.h"

#include "gas/rows.h"

#include <algorithm>

namespace comet {
namespace {

// Whether the voxels of a colour have odd places in a row.
bool isOdd(std::size_t y, std::size_t z, std::size_t colour) { return (y + z + colour) % 2 == 1; }

// Makes the layer around a box air where its walls are open.
void setAir(const GasGrid& grid, PressureLevel& level) {
  for (std::size_t axis = 0; axis < 3; ++axis)
    for (std::size_t side = 0; side < 2; ++side) {
      if (!grid.open[axis][side]) continue;
      const std::size_t one = (axis + 1) % 3, other = (axis + 2) % 3;
      std::array<std::size_t, 3> at{};
      at[axis] = side == 0 ? 0 : grid.counts[axis] + 1;
      for (at[one] = 1; at[one] <= grid.counts[one]; ++at[one])
        for (at[other] = 1; at[other] <= grid.counts[other]; ++at[other])
          level.cells[level.layout.index(at[0], at[1], at[2])] = PressureCell::Air;
    }
}

}  // namespace

EquationRow PressureLevel::equations(std::size_t y, std::size_t z) const {
  const std::size_t start = rowOf(y, z);
  EquationRow row;
  row.row = layout.row();
  row.plane = layout.plane();
  for (std::size_t axis = 0; axis < 3; ++axis) row.open[axis] = open[axis].data() + start;
  row.inverse = inverse.data() + start;
  row.isPlain = plain(y, z);
  row.whole = whole;
  // What counts for nothing need not be read.
  if (row.isPlain && whole[2] == 0) row.plane = 0;
  return row;
}

PressureLevel emptyLevel(const std::array<std::size_t, 3>& counts, const std::array<float, 3>& whole) {
  PressureLevel level;
  level.counts = counts;
  const std::size_t row = (counts[0] + 2 + kPressureLanes - 1) / kPressureLanes * kPressureLanes;
  level.layout = {{row, counts[1] + 2, counts[2] + 2}};
  level.cells.assign(level.layout.size(), PressureCell::Solid);
  for (auto& faces : level.open) faces.assign(level.layout.size(), 0.0F);
  level.whole = whole;
  level.inverse.assign(level.layout.size(), 0.0F);
  level.isPlain.assign(level.layout.counts[1] * level.layout.counts[2], 0);
  return level;
}

void completeLevel(PressureLevel& level) {
  const std::size_t up = level.layout.row(), ahead = level.layout.plane();
  forRows(level, [&](std::size_t y, std::size_t z) {
    const std::size_t start = level.rowOf(y, z);
    const float *a = level.open[0].data(), *b = level.open[1].data(), *c = level.open[2].data();
    bool isPlain = true;
    for (std::size_t i = start + 1; i <= start + level.counts[0]; ++i) {
      const float through = ((a[i] + a[i + 1]) + (b[i] + b[i + up])) + (c[i] + c[i + ahead]);
      level.inverse[i] = level.hasGas(i) && through > 0 ? 1 / through : 0.0F;
      isPlain = isPlain && level.hasGas(i) && a[i] == level.whole[0] && a[i + 1] == level.whole[0] &&
                b[i] == level.whole[1] && b[i + up] == level.whole[1] && c[i] == level.whole[2] &&
                c[i + ahead] == level.whole[2];
    }
    level.isPlain[z * level.layout.counts[1] + y] = isPlain ? 1 : 0;
  });
}

PressureLevel levelOf(const GasGrid& grid, const GasSolids& solids) {
  std::array<float, 3> whole{1, 1, 1};
  for (std::size_t axis = 0; axis < 3; ++axis)
    if (grid.isStill(axis)) whole[axis] = 0;
  PressureLevel level = emptyLevel(grid.counts, whole);
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const GridLayout faces = grid.faces(axis);
    forRows(faces, [&](std::size_t y, std::size_t z) {
      std::copy_n(solids.open[axis].data() + faces.index(0, y, z), faces.counts[0],
                  level.open[axis].data() + level.rowOf(y + 1, z + 1) + 1);
    });
  }
  const std::size_t up = level.layout.row(), ahead = level.layout.plane();
  forRows(level, [&](std::size_t y, std::size_t z) {
    const std::size_t start = level.rowOf(y, z);
    const float *a = level.open[0].data(), *b = level.open[1].data(), *c = level.open[2].data();
    for (std::size_t i = start + 1; i <= start + level.counts[0]; ++i)
      if (a[i] + a[i + 1] + b[i] + b[i + up] + c[i] + c[i + ahead] > 0) level.cells[i] = PressureCell::Gas;
  });
  setAir(grid, level);
  completeLevel(level);
  return level;
}

void applyStencil(const PressureLevel& level, const LevelNumbers& pressure, LevelNumbers& result) {
  forRows(level, [&](std::size_t y, std::size_t z) { applyStencilInRow(level, y, z, pressure, result); });
}

void applyStencilInRow(const PressureLevel& level, std::size_t y, std::size_t z, const LevelNumbers& pressure,
                       LevelNumbers& result) {
  const std::size_t start = level.rowOf(y, z);
  productRow(level.equations(y, z), pressure.data() + start, result.data() + start);
}

void findResidualInRow(const PressureLevel& level, std::size_t y, std::size_t z, const LevelNumbers& pressure,
                       const LevelNumbers& right, const LevelNumbers& norm, LevelNumbers& residual) {
  const std::size_t start = level.rowOf(y, z);
  residualRow(level.equations(y, z), pressure.data() + start, right.data() + start, norm.data() + start,
              residual.data() + start);
}

void smoothRow(const PressureLevel& level, std::size_t y, std::size_t z, const LevelNumbers& right,
               std::size_t colour, LevelNumbers& pressure) {
  const std::size_t start = level.rowOf(y, z);
  smoothRow(level.equations(y, z), right.data() + start, isOdd(y, z, colour), pressure.data() + start);
}

void smoothRowFromZero(const PressureLevel& level, std::size_t y, std::size_t z, const LevelNumbers& right,
                       std::size_t colour, LevelNumbers& pressure) {
  const std::size_t start = level.rowOf(y, z);
  smoothRowFromZero(level.equations(y, z), right.data() + start, isOdd(y, z, colour),
                    pressure.data() + start);
}

}  // namespace comet
