#include "gas/gas_grid.h"

namespace comet {

void GasGrid::describe(Hasher& hasher) const {
  hasher << voxel << corner;
  for (std::size_t axis = 0; axis < 3; ++axis) hasher << counts[axis] << open[axis][0] << open[axis][1];
}

std::vector<GasChannel*> GasState::withDensity() {
  std::vector<GasChannel*> channels;
  if (hasColor())
    for (GasChannel& channel : color) channels.push_back(&channel);
  if (hasAge()) channels.push_back(&age);
  return channels;
}

std::vector<GasChannel*> GasState::contents() {
  std::vector<GasChannel*> channels = withDensity();
  channels.insert(channels.begin(), {&density, &temperature});
  if (hasFuel()) channels.push_back(&fuel);
  return channels;
}

GasState emptyGas(const GasGrid& grid, const GasExtras& extras) {
  GasState state;
  for (std::size_t axis = 0; axis < 3; ++axis) state.velocity[axis].assign(grid.faces(axis).size(), 0.0F);
  state.density.assign(grid.cells().size(), 0.0F);
  state.temperature.assign(grid.cells().size(), 0.0F);
  if (extras.color)
    for (GasChannel& channel : state.color) channel.assign(grid.cells().size(), 0.0F);
  if (extras.age) state.age.assign(grid.cells().size(), 0.0F);
  if (extras.fuel) state.fuel.assign(grid.cells().size(), 0.0F);
  return state;
}

}  // namespace comet
