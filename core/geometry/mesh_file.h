// Meshes from files, OBJ, PLY, STL and glTF, and into them.
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

enum class MeshFormat { Obj, Ply, Glb };

// ".obj", ".ply" or ".glb".
std::string_view extensionOf(MeshFormat format);
// The bytes of a file with the mesh's points, normals and triangles. Throws Error(Write) if it cannot be
// written in this format.
std::string meshBytes(const Mesh& mesh, MeshFormat format);

}  // namespace comet
