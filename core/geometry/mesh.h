// Triangle meshes as data.
//
// Space as in base/vec.h, in scene units. Immutable once made; read from any thread.
#pragma once

#include "base/vec.h"

#include <array>
#include <cstdint>
#include <string>
#include <vector>

namespace comet {

struct Box {
  Vec3d min{0.0}, max{0.0};

  Vec3d extent() const { return max - min; }
  Vec3d centre() const { return (min + max) * 0.5; }
};

struct Mesh {
  using Triangle = std::array<std::uint32_t, 3>;  // indices into points, counter-clockwise seen from outside

  std::vector<Vec3> points;
  std::vector<Vec3> normals;  // one for each point, of length one
  std::vector<Triangle> triangles;
  std::vector<std::uint32_t> parts;  // the part of each triangle, an index into partNames

  // Either may be empty.
  struct PartNames {
    std::string group, material;

    bool operator==(const PartNames&) const = default;
  };
  std::vector<PartNames> partNames;

  // Whether a triangle belongs to the group or material of this name.
  bool isIn(std::size_t triangle, const std::string& part) const;
  // All names that isIn may be asked for, each once.
  std::vector<std::string> namesOfParts() const;

  // Twice the area times the unit normal.
  Vec3d areaVector(std::size_t triangle) const;
  Vec3d faceNormal(std::size_t triangle) const;
  Box bounds() const;
};

// What is to be known of a mesh before it is used.
struct MeshReport {
  std::size_t points = 0, triangles = 0, edges = 0;
  std::size_t degenerate = 0;    // triangles without area; nothing is born on them
  std::size_t openEdges = 0;     // with a triangle on one side only
  Vec3d openAt{0.0};             // the middle of one of them
  std::size_t crowdedEdges = 0;  // with three triangles or more

  // Whether it has an inside.
  bool isClosed() const { return triangles > 0 && openEdges == 0 && crowdedEdges == 0; }
};

// Of a closed mesh, units³, by the divergence theorem: positive if its faces look outwards.
double volumeOf(const Mesh& mesh);

// Every edge once, as a pair of rising indices.
std::vector<std::array<std::uint32_t, 2>> edgesOf(const Mesh& mesh);

MeshReport reportOn(const Mesh& mesh);

}  // namespace comet
