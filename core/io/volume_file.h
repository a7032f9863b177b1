// Fields of vectors from OpenVDB files.
#pragma once

#include "fields/vector_grid.h"

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

// All grids of vectors in the file, in its order. Voxels that hold nothing are zero. Throws Error(Input): no
// such file, not a volume file, damaged, no grid of vectors in it, a grid that is turned or sheared, or one
// whose box has more than 32 million voxels.
std::vector<VectorVolume> readVectorVolumes(const std::filesystem::path& path);
// As above, from the bytes of a file.
std::vector<VectorVolume> vectorVolumesFromBytes(std::string_view bytes, const std::string& name);

// An OpenVDB file with the grid as single floats. Throws Error(Write).
void writeVectorVolume(const std::filesystem::path& path, const VectorVolume& volume);

}  // namespace comet
