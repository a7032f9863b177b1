// Files that the program has written, read back.
#pragma once

#include "base/file.h"
#include "geometry/mesh_file.h"
#include "io/picture_file.h"
#include "io/volume_file.h"

#include <filesystem>
#include <vector>

namespace comet::test {

inline std::string bytesOf(const std::filesystem::path& path) { return readFile(path, std::size_t{1} << 30); }

inline Picture readPicture(const std::filesystem::path& path) {
  return pictureFromBytes(bytesOf(path), path.string());
}

inline Mesh readMesh(const std::filesystem::path& path) {
  return meshFromBytes(bytesOf(path), path.string());
}

inline std::vector<VectorVolume> readVolumes(const std::filesystem::path& path) {
  return vectorVolumesFromBytes(bytesOf(path), path.string());
}

}  // namespace comet::test
