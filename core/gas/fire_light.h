// The light that glowing gas throws on the gas around it.
//
// What glows is gathered in blocks of voxels, and so is what it lights: each block is lit by every block that
// glows, by the inverse square of their distance and by what the gas between them lets through. So it costs
// little beside a picture, and is as smooth as light is that comes from a flame.
#pragma once

#include "gas/gas_look.h"
#include "gas/gas_spot.h"

#include <optional>
#include <vector>

namespace comet {

struct GasGrid;
struct GasState;

class FireLight {
 public:
  // Of nothing that glows.
  FireLight() = default;
  FireLight(const GasGrid& grid, const GasState& state, const GasLook& look);

  // As much as a light of this brightness that shines on gas which sends as much in all directions; `at` is
  // in voxels from the first one's middle. Any thread.
  Vec3 at(const Four& at) const;

 private:
  std::optional<GasNodes> nodes_;  // the blocks' middles
  Four perVoxel_{}, first_{};      // from voxels to blocks
  std::array<std::vector<float>, 3> light_;
};

}  // namespace comet
