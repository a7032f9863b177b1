// Fields of vectors from OpenVDB files, and into them; gases into them.
#pragma once

#include "fields/vector_grid.h"
#include "gas/packed_gas.h"

#include <filesystem>
#include <string>
#include <vector>

namespace comet {

// A vector grid of a file, and the box that its voxels fill, in the file's own units.
struct VectorVolume {
  std::string name;
  VectorGrid grid;
  Vec3d centre{0.0};
  Vec3d size{1.0};
};

// All grids of vectors in a file, in its order. Voxels that hold nothing are zero. For files that come from
// elsewhere there is FileReader. Throws Error(Input) with the name as the place: not a volume file, damaged,
// no grid of vectors in it, a grid that is turned or sheared, or one whose box has more than 32 million
// voxels.
std::vector<VectorVolume> vectorVolumesFromBytes(std::string_view bytes, const std::string& name);

// Readies the library, which is done when it is first used otherwise.
void prepareVolumes();

// An OpenVDB file with the grid as single floats. Throws Error(Write).
void writeVectorVolume(const std::filesystem::path& path, const VectorVolume& volume);

// An OpenVDB file with the grids "density", "temperature" (kelvin above the air's) and "velocity" (units per
// second, at the middles of the voxels); what is 0 is off.
std::string encodeGas(const PackedGas& gas);

}  // namespace comet
