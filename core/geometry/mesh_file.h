// Meshes from files: OBJ, PLY, STL and glTF.
#pragma once

#include "geometry/mesh.h"

#include <filesystem>
#include <string_view>

namespace comet {

// Points at equal places are joined, polygons cut into triangles, normals made where the file has none. Parts
// are the file's groups and materials. Throws Error(Input): no such file, not a mesh, indices out of range,
// coordinates that are no numbers, or more than 10 million triangles.
Mesh readMesh(const std::filesystem::path& path);

// As above, from the bytes of a file; `name` says by its extension what kind it is.
Mesh meshFromBytes(std::string_view bytes, const std::string& name);

}  // namespace comet
