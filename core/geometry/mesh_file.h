// Meshes from files, OBJ, PLY, STL and glTF, and into them.
#pragma once

#include "geometry/mesh.h"

#include <functional>
#include <optional>
#include <string>
#include <string_view>

namespace comet {

// The bytes of a further file that a mesh's file names; nothing if there is none.
using FurtherFiles = std::function<std::optional<std::string>(const std::string& name)>;

// From the bytes of a file; the name says by its extension what kind it is. Only a glTF asks for further
// files. Points at equal places are joined, polygons cut into triangles, normals made where the file has
// none. Parts are the file's groups and materials. For files that come from elsewhere there is FileReader.
// Throws Error(Input) without a place: not a mesh, indices out of range, coordinates that are no numbers,
// faces of more than 10 000 corners, or more than 10 million triangles.
Mesh meshFromBytes(std::string_view bytes, const std::string& name, const FurtherFiles& further = {});

enum class MeshFormat { Obj, Ply, Glb };

// ".obj", ".ply" or ".glb".
std::string_view extensionOf(MeshFormat format);
// The bytes of a file with the mesh's points, normals and triangles. Throws Error(Write) if it cannot be
// written in this format.
std::string meshBytes(const Mesh& mesh, MeshFormat format);

}  // namespace comet
