#include "render/solids.h"

#include "geometry/shape_mesh.h"
#include "simulation/deflectors/deflector_shape.h"
#include "simulation/influences/influences.h"

namespace comet {
namespace {

using Type = DeflectorShape::Type;

// Of a plane without end, so much is drawn.
constexpr double kPlaneReach = 2000;

Mesh meshOf(const DeflectorShape& shape) {
  const Vec3d& half = shape.half();
  switch (shape.type()) {
    case Type::Plane:
      return boxMesh({kPlaneReach, 0, kPlaneReach});
    case Type::Rectangle:
      return boxMesh({half.x, 0, half.z});
    case Type::Box:
      return boxMesh(half);
    case Type::Disc:
      return latheMesh(discOutline(half.x));
    case Type::Sphere:
      return latheMesh(sphereOutline(half.x));
    case Type::Cylinder:
      return latheMesh(cylinderOutline(half.x, half.y));
    case Type::Capsule:
      return latheMesh(capsuleOutline(half.x, half.y));
    case Type::Mesh:
      break;
  }
  return {};
}

// Of what is hollow one sees the far walls from within; of what has no thickness, both sides.
Solid::Faces facesOf(const DeflectorShape& shape) {
  if (shape.isThin() || shape.type() == Type::Plane) return Solid::Faces::Both;
  return shape.isInsideOut() ? Solid::Faces::Back : Solid::Faces::Front;
}

}  // namespace

std::vector<Solid> solidsOf(const Scene& scene, double frame, RenderPurpose purpose) {
  std::vector<Solid> solids;
  for (const Scene::ItemPtr& item : scene.itemsOf(ItemFamily::Influence)) {
    if (!item->enabled || influenceKindOf(*item).group != InfluenceGroup::Deflector) continue;
    const bool isShaded = purpose == RenderPurpose::Viewport && item->chooses("viewport_display", "shaded");
    const bool isVisible = item->chooses("render_display", "visible") || isShaded;
    if (!isVisible && !item->chooses("render_display", "holdout")) continue;
    const DeflectorShape shape(*item, frame);
    Solid solid;
    solid.mesh = shape.type() == Type::Mesh ? shape.triangles() : std::make_shared<const Mesh>(meshOf(shape));
    if (!solid.mesh) continue;
    solid.scale = shape.meshScale();
    solid.turn = rotationFromDegrees(item->vector("rotation", frame));
    solid.place = item->vector("position", frame);
    solid.faces = facesOf(shape);
    solid.isVisible = isVisible;
    solid.color = item->vector("surface_color", frame);
    solids.push_back(std::move(solid));
  }
  return solids;
}

}  // namespace comet
