#include "gas/gas_grid.h"

namespace comet {

GasState emptyGas(const GasGrid& grid) {
  GasState state;
  for (std::size_t axis = 0; axis < 3; ++axis) state.velocity[axis].assign(grid.faces(axis).size(), 0.0F);
  state.density.assign(grid.cells().size(), 0.0F);
  state.temperature.assign(grid.cells().size(), 0.0F);
  return state;
}

}  // namespace comet
