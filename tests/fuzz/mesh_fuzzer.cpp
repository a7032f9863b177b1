// Any bytes as a mesh file of each kind: an Error or a mesh whose indices lie in it. The first byte chooses
// the kind.
#include "base/error.h"
#include "geometry/mesh_content.h"
#include "geometry/mesh_file.h"

#include <cstdlib>
#include <string>
#include <string_view>

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
  if (size == 0) return 0;
  constexpr const char* kNames[] = {"a.obj", "a.ply", "a.stl", "a.glb"};
  try {
    const comet::MeshContent content(
        comet::meshFromBytes({reinterpret_cast<const char*>(data) + 1, size - 1}, kNames[data[0] % 4]));
    for (const comet::Mesh::Triangle& triangle : content.mesh().triangles)
      for (const std::uint32_t corner : triangle)
        if (corner >= content.mesh().points.size()) std::abort();
    (void)content.sampler({})->pick({0.1, 0.2, 0.3}, [](std::uint32_t) { return comet::Vec3d(0.5); });
  } catch (const comet::Error&) {
    // What a reader owes to broken input.
  }
  return 0;
}
