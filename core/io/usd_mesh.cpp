#include "io/usd_mesh.h"

#include "io/usd_text.h"

#include <fmt/format.h>
#include <iterator>

namespace comet {
namespace {

template <typename List, typename Write>
std::string listed(const List& list, const Write& write) {
  std::string text = "[";
  auto end = std::back_inserter(text);
  for (std::size_t i = 0; i < list.size(); ++i) {
    if (i > 0) text += ", ";
    write(end, list[i]);
  }
  return text + "]";
}

std::string triples(const std::vector<Vec3>& list) {
  return listed(
      list, [](auto& end, const Vec3& v) { fmt::format_to(end, "({:.6g}, {:.6g}, {:.6g})", v.x, v.y, v.z); });
}

}  // namespace

std::string encodeUsdMeshes(const std::vector<MeshFrame>& frames, double rate) {
  std::string text =
      "        uniform bool doubleSided = 1\n        uniform token subdivisionScheme = \"none\"\n";
  const auto add = [&](const char* declaration, const char* metadata, const auto& sample) {
    std::string samples;
    for (const MeshFrame& frame : frames) samples += usdSample(frame.frame, sample(frame));
    text += usdAttribute(declaration, samples, metadata);
  };
  add("int[] faceVertexCounts", "", [](const MeshFrame& frame) {
    return listed(frame.triangles,
                  [](auto& end, const std::array<std::uint32_t, 3>&) { fmt::format_to(end, "3"); });
  });
  add("int[] faceVertexIndices", "", [](const MeshFrame& frame) {
    return listed(frame.triangles, [](auto& end, const std::array<std::uint32_t, 3>& face) {
      fmt::format_to(end, "{}, {}, {}", face[0], face[1], face[2]);
    });
  });
  add("point3f[] points", "", [](const MeshFrame& frame) { return triples(frame.points); });
  add("normal3f[] normals", kUsdPerVertex, [](const MeshFrame& frame) { return triples(frame.normals); });
  add("vector3f[] velocities", "", [](const MeshFrame& frame) { return triples(frame.velocities); });
  add("color3f[] primvars:displayColor", kUsdPerVertex,
      [](const MeshFrame& frame) { return triples(frame.colors); });
  add("texCoord2f[] primvars:st", kUsdPerVertex, [](const MeshFrame& frame) {
    // There, pictures begin at their lower left corner.
    return listed(frame.spots,
                  [](auto& end, const Vec2& at) { fmt::format_to(end, "({:.6g}, {:.6g})", at.x, 1 - at.y); });
  });
  return usdFile("Mesh \"cards\"", text, frames.empty() ? 1 : frames.front().frame,
                 frames.empty() ? 1 : frames.back().frame, rate);
}

}  // namespace comet
