#include "geometry/mesh_content.h"

#include <fmt/format.h>

namespace comet {
namespace {

Digest digestOf(const Mesh& mesh) {
  Hasher hasher;
  hasher.bytes(mesh.points.data(), mesh.points.size() * sizeof(Vec3));
  hasher.bytes(mesh.normals.data(), mesh.normals.size() * sizeof(Vec3));
  hasher.bytes(mesh.triangles.data(), mesh.triangles.size() * sizeof(Mesh::Triangle));
  hasher.bytes(mesh.parts.data(), mesh.parts.size() * sizeof(std::uint32_t));
  for (const Mesh::PartNames& part : mesh.partNames) hasher << part.group << part.material;
  return hasher.digest();
}

}  // namespace

MeshContent::MeshContent(Mesh mesh)
    : mesh_(std::move(mesh)), report_(reportOn(mesh_)), digest_(digestOf(mesh_)) {}

std::string MeshContent::summary() const {
  std::string text = fmt::format("{} points, {} triangles", report_.points, report_.triangles);
  if (report_.triangles == 0) return text + ": only its vertices can be used";
  if (report_.degenerate > 0) text += fmt::format(", {} without area are left out", report_.degenerate);
  if (!report_.isClosed())
    text += report_.crowdedEdges > 0
                ? fmt::format(", {} edges join more than two faces: no births inside", report_.crowdedEdges)
                : fmt::format(", {} open edges: no births inside", report_.openEdges);
  return text;
}

std::shared_ptr<const MeshSampler> MeshContent::sampler(const MeshRegion& region) const {
  Hasher key;
  key << "sampler" << region.place << region.part;
  if (region.place == MeshPlace::Facing)
    key << region.facing.x << region.facing.y << region.facing.z << region.facingAngle;
  return derived<MeshSampler>(
      key.digest(), [&] { return std::make_shared<const MeshSampler>(mesh_, region, report_.isClosed()); });
}

std::shared_ptr<const VerticalLines> MeshContent::insideTest() const {
  if (!report_.isClosed()) return nullptr;
  return derived<VerticalLines>((Hasher() << "inside test").digest(),
                                [this] { return std::make_shared<const VerticalLines>(mesh_); });
}

std::shared_ptr<const SurfaceTree> MeshContent::surfaceTree() const {
  return derived<SurfaceTree>((Hasher() << "surface tree").digest(),
                              [this] { return std::make_shared<const SurfaceTree>(mesh_); });
}

std::shared_ptr<const DistanceField> MeshContent::distanceField(int cells, const Progress& progress) const {
  if (report_.triangles == 0) return nullptr;
  // Asked before: while one result is made, no other can be.
  const auto tree = surfaceTree();
  const auto inside = insideTest();
  return derived<DistanceField>((Hasher() << "distance field" << cells).digest(), [&] {
    return std::make_shared<const DistanceField>(mesh_, *tree, inside.get(), cells, progress);
  });
}

std::size_t MeshContent::selfCrossings() const {
  const auto tree = surfaceTree();
  return *derived<std::size_t>((Hasher() << "self crossings").digest(), [&] {
    return std::make_shared<const std::size_t>(crossingEdges(mesh_, *tree));
  });
}

}  // namespace comet
