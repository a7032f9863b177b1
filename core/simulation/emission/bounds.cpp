#include "simulation/emission/bounds.h"

#include <glm/geometric.hpp>

namespace comet {
bool EndBounds::ends(const Vec3d& position) const {
  const Vec3d local = position - centre;
  bool isInside = true;
  switch (type) {
    case Type::None:
      return false;
    case Type::Sphere:
      isInside = glm::dot(local, local) <= radius * radius;
      break;
    case Type::Box:
      isInside = glm::all(glm::lessThanEqual(glm::abs(local), extent * 0.5));
      break;
    case Type::Mesh:
      isInside = insideTest->isInside(local);
      break;
  }
  return isInside == endsInside;
}

void EndBounds::describe(Hasher& hasher) const {
  hasher << type;
  if (type == Type::None) return;
  hasher << endsInside << centre.x << centre.y << centre.z << radius << extent.x << extent.y << extent.z;
  if (mesh) hasher << mesh->digest();
}

EndBounds endBoundsOf(const Item& emitter, const Item* gas, double frame) {
  EndBounds bounds;
  const std::string& choice = emitter.choice("bounds");
  if (choice == "none") return bounds;
  if (choice == "gas") {
    if (!gas) return bounds;
    bounds.type = EndBounds::Type::Box;
    bounds.centre = gas->vector("position", frame);
    bounds.extent = gas->vector("size", frame);
    return bounds;
  }
  bounds.centre = emitter.vector("bounds_position", frame);
  bounds.endsInside = choice != "distance" && emitter.chooses("bounds_side", "inside");
  bounds.type = EndBounds::Type::Sphere;
  if (choice == "box") {
    bounds.type = EndBounds::Type::Box;
    bounds.extent = emitter.vector("bounds_extent", frame);
  } else if (choice == "mesh") {
    bounds.mesh = emitter.content<MeshContent>("bounds_mesh");
    if (bounds.mesh) bounds.insideTest = bounds.mesh->insideTest();
    bounds.type = bounds.insideTest ? EndBounds::Type::Mesh : EndBounds::Type::None;
  } else {
    bounds.radius = emitter.number("bounds_radius", frame);
  }
  return bounds;
}

std::string problemWithBounds(const Item& emitter) {
  if (emitter.chooses("bounds", "gas") && emitter.reference("bounds_gas") == 0)
    return "nothing ends without a gas: choose one";
  if (!emitter.chooses("bounds", "mesh")) return {};
  const auto mesh = emitter.content<MeshContent>("bounds_mesh");
  if (!mesh) return "nothing ends without a mesh: choose one";
  return mesh->report().isClosed() ? "" : "the mesh is not closed, so it has no inside: nothing ends";
}

}  // namespace comet
