#include "simulation/deflectors/deflector_shape.h"

#include "geometry/picture_mesh.h"
#include "io/picture_content.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace comet {
namespace {

using Type = DeflectorShape::Type;

// From the nearest point of something without thickness. `fallback` is the side that counts on it.
SurfaceDistance awayFrom(const Vec3d& nearest, const Vec3d& place, const Vec3d& fallback) {
  const Vec3d path = place - nearest;
  const double distance = glm::length(path);
  return {distance, distance > 0 ? path / distance : fallback};
}

// From the rectangle with one corner at the origin that a profile fills to the left of and below `corner`:
// `x` and `y` are how far a place lies to the right and above it.
SurfaceDistance ofProfile(double x, double y, const Vec3d& right, const Vec3d& up) {
  if (x <= 0 && y <= 0) return x > y ? SurfaceDistance{x, right} : SurfaceDistance{y, up};
  const Vec2d out(std::max(0.0, x), std::max(0.0, y));
  const double distance = glm::length(out);
  return {distance, (right * out.x + up * out.y) / distance};
}

SurfaceDistance fromBox(const Vec3d& place, const Vec3d& half) {
  const Vec3d out = glm::abs(place) - half;
  const Vec3d side = glm::sign(place);
  if (out.x <= 0 && out.y <= 0 && out.z <= 0) {
    int axis = out.x > out.y ? 0 : 1;
    if (out.z > out[axis]) axis = 2;
    Vec3d normal(0.0);
    normal[axis] = side[axis] == 0 ? 1 : side[axis];
    return {out[axis], normal};
  }
  const Vec3d beyond = glm::max(out, Vec3d(0.0));
  const double distance = glm::length(beyond);
  return {distance, beyond * side / distance};
}

// Made once for each picture and each size, and kept with the item. Null without a picture.
std::shared_ptr<const MeshContent> meshFromPicture(const Item& deflector, double frame) {
  const auto content = deflector.content<PictureContent>("picture");
  if (!content) return nullptr;
  const bool isRelief = deflector.chooses("shape", "heightmap");
  const int index = static_cast<int>(std::floor(frame));
  const PictureGrid grid{deflector.integer("picture_resolution", frame),
                         deflector.number("picture_width", frame)};
  const double depth = deflector.number(isRelief ? "heightmap_height" : "thickness", frame);
  const double threshold = std::max(1e-3, deflector.number("opacity_threshold", frame) / 100);
  Hasher key;
  key << isRelief << content->digest() << content->indexAt(index) << grid.cells << grid.width << depth
      << threshold;
  return deflector.kept->get<MeshContent>(key.digest(), [&] {
    const Picture& picture = *content->at(index);
    return std::make_shared<const MeshContent>(isRelief ? reliefOf(picture, grid, depth)
                                                        : cutOutOf(picture, grid, threshold, depth));
  });
}

Type typeOf(const Item& deflector) {
  if (deflector.chooses("shape", "heightmap") || deflector.chooses("shape", "cut_out")) return Type::Mesh;
  return deflector.choiceAs<Type>(
      "shape", std::array<std::string_view, 8>{"plane", "rectangle", "disc", "box", "sphere", "cylinder",
                                               "capsule", "mesh"});
}

}  // namespace

DeflectorShape::DeflectorShape(const Item& deflector, double frame) : type_(typeOf(deflector)) {
  const bool isFile = deflector.chooses("shape", "mesh");
  if (type_ == Type::Mesh)
    mesh_ = isFile ? deflector.content<MeshContent>("mesh") : meshFromPicture(deflector, frame);
  if (mesh_) {
    meshScale_ = isFile ? deflector.number("mesh_scale", frame) : 1;
    const Box bounds = mesh_->mesh().bounds();
    half_ = 0.5 * meshScale_ * bounds.extent();
    centre_ = meshScale_ * bounds.centre();
    fieldCells_ = deflector.integer("field_resolution", frame);
    const bool wantsField =
        deflector.chooses("collision_test", "distance_field") ||
        (deflector.chooses("collision_test", "automatic") && deflector.number("particle_radius", frame) > 0);
    metByField_ = wantsField && mesh_->report().isClosed();
  }
  const bool isRound =
      type_ == Type::Disc || type_ == Type::Sphere || type_ == Type::Cylinder || type_ == Type::Capsule;
  if (isRound) half_ = Vec3d(deflector.number("radius", frame));
  if (type_ == Type::Cylinder || type_ == Type::Capsule) half_.y = 0.5 * deflector.number("height", frame);
  if (type_ == Type::Box || type_ == Type::Rectangle) half_ = 0.5 * deflector.vector("size", frame);
  const bool isSolid = !isThin() && type_ != Type::Plane;
  insideOut_ = isSolid && deflector.flag("inside_out", frame);
}

DeflectorShape DeflectorShape::readyToMeet(const Progress& progress) const {
  DeflectorShape ready = *this;
  if (mesh_) {
    ready.tree_ = mesh_->surfaceTree();
    ready.inside_ = mesh_->insideTest();
    constexpr int kCoarseCells = 96;
    ready.near_ = mesh_->distanceField(kCoarseCells, progress);
    if (metByField_) ready.field_ = mesh_->distanceField(fieldCells_, progress);
  }
  return ready;
}

SurfaceDistance DeflectorShape::outside(const Vec3d& place) const {
  const Vec3d up(0, 1, 0);
  switch (type_) {
    case Type::Mesh:
      break;
    case Type::Plane:
      return {place.y, up};
    case Type::Rectangle:
      return awayFrom({std::clamp(place.x, -half_.x, half_.x), 0, std::clamp(place.z, -half_.z, half_.z)},
                      place, up);
    case Type::Disc: {
      const Vec3d flat(place.x, 0, place.z);
      const double radius = glm::length(flat);
      return awayFrom(radius > half_.x ? flat * (half_.x / radius) : flat, place, up);
    }
    case Type::Box:
      return fromBox(place, half_);
    case Type::Sphere: {
      const double radius = glm::length(place);
      return {radius - half_.x, radius > 0 ? place / radius : up};
    }
    case Type::Cylinder: {
      const Vec3d flat(place.x, 0, place.z);
      const double radius = glm::length(flat);
      return ofProfile(radius - half_.x, std::abs(place.y) - half_.y,
                       radius > 0 ? flat / radius : Vec3d(1, 0, 0), place.y < 0 ? -up : up);
    }
    case Type::Capsule: {
      const Vec3d away = place - Vec3d(0, std::clamp(place.y, -half_.y, half_.y), 0);
      const double radius = glm::length(away);
      return {radius - half_.x, radius > 0 ? away / radius : Vec3d(1, 0, 0)};
    }
  }
  return {};
}

SurfaceDistance DeflectorShape::fromMesh(const Vec3d& place, double within) const {
  SurfaceDistance far{std::numeric_limits<double>::infinity(), Vec3d(0, 1, 0)};
  const Vec3d own = place / meshScale_;
  if (!std::isinf(within) && near_ && about(own, within / meshScale_) != Whereabouts::Near) return far;
  const auto nearest = tree_ ? tree_->nearest(own, within / meshScale_) : std::nullopt;
  if (!nearest) return far;
  const SurfaceDistance away =
      awayFrom(nearest->at * meshScale_, place, mesh_->mesh().faceNormal(nearest->triangle));
  // Seen from within what is solid, the way to the surface leads out.
  return isInsideMesh(own) ? SurfaceDistance{-away.distance, -away.normal} : away;
}

SurfaceDistance DeflectorShape::fromField(const Vec3d& place) const {
  const DistanceField::Reading reading = field_->at(place / meshScale_);
  return {reading.distance * meshScale_, reading.gradient};
}

bool DeflectorShape::isInsideMesh(const Vec3d& own) const {
  if (!inside_) return false;
  const Whereabouts known = near_ ? about(own, 0) : Whereabouts::Near;
  return known == Whereabouts::Near ? inside_->isInside(own) : known == Whereabouts::Inside;
}

bool DeflectorShape::isInside(const Vec3d& place) const {
  if (type_ == Type::Mesh) return inside_ && isInsideMesh(place / meshScale_) != insideOut_;
  return at(place).distance < 0;
}

void DeflectorShape::mayBeNear(const DistanceField::Places& places, bool* near) const {
  if (!near_) {
    std::fill_n(near, places.count, true);
    return;
  }
  constexpr std::size_t kBlock = 256;
  std::array<Whereabouts, kBlock> about;
  // What lies on the solid side has to be put out; what is open has none.
  const Whereabouts solid = !inside_     ? Whereabouts::Near
                            : insideOut_ ? Whereabouts::Outside
                                         : Whereabouts::Inside;
  for (std::size_t first = 0; first < places.count; first += kBlock) {
    const std::size_t count = std::min(kBlock, places.count - first);
    near_->about({places.x + first, places.y + first, places.z + first, places.range + first, count},
                 about.data());
    for (std::size_t i = 0; i < count; ++i)
      near[first + i] = (about[i] == Whereabouts::Near) | (about[i] == solid);
  }
}

std::optional<DeflectorShape::Crossing> DeflectorShape::crossing(const Vec3d& from, const Vec3d& to) const {
  const auto meeting = tree_ ? tree_->firstOn(from / meshScale_, to / meshScale_) : std::nullopt;
  if (!meeting) return std::nullopt;
  const Vec3d normal = mesh_->mesh().faceNormal(meeting->triangle);
  return Crossing{meeting->fraction, glm::dot(normal, to - from) > 0 ? -normal : normal};
}

SurfaceDistance DeflectorShape::at(const Vec3d& place, double within) const {
  SurfaceDistance out = field_                ? fromField(place)
                        : type_ == Type::Mesh ? fromMesh(place, within)
                                              : outside(place);
  // What is not near enough to tell is far on either side.
  if (std::isinf(out.distance)) return out;
  return insideOut_ ? SurfaceDistance{-out.distance, -out.normal} : out;
}

int DeflectorShape::parts(const Vec3d& place, std::array<SurfacePart, kMaxParts>& parts) const {
  const auto single = [&] {
    const SurfaceDistance nearest = at(place);
    parts[0] = {nearest.distance, nearest.normal, 0};
    return 1;
  };
  if (!insideOut_) return single();
  const double radius = type_ == Type::Cylinder ? std::hypot(place.x, place.z) : half_.x - at(place).distance;
  const double bend = 1 / std::max(radius, 1e-6 * half_.x);
  int count = 0;
  const auto add = [&](double distance, const Vec3d& normal, double bends) {
    parts[static_cast<std::size_t>(count++)] = {distance, normal, bends};
  };
  const auto addWalls = [&](int axis) {
    for (const double side : {-1.0, 1.0}) {
      Vec3d normal(0.0);
      normal[axis] = -side;
      add(half_[axis] - side * place[axis], normal, 0);
    }
  };
  switch (type_) {
    case Type::Box:
      for (int axis = 0; axis < 3; ++axis) addWalls(axis);
      return count;
    case Type::Cylinder: {
      const Vec3d flat(place.x, 0, place.z);
      add(half_.x - radius, -unitOr(flat, Vec3d(1, 0, 0)), bend);
      addWalls(1);
      return count;
    }
    default:
      break;
  }
  single();
  parts[0].bend = bend;
  return 1;
}

void DeflectorShape::describe(Hasher& hasher) const {
  hasher << type_ << half_ << insideOut_ << meshScale_ << (mesh_ != nullptr);
  if (mesh_) hasher << mesh_->digest() << metByField_;
  if (metByField_) hasher << fieldCells_;
}

Wire DeflectorShape::wire() const {
  switch (type_) {
    case Type::Plane:
      return planeWire();
    case Type::Rectangle:
      return boxWire({2 * half_.x, 0, 2 * half_.z});
    case Type::Disc:
      return {circleLine(half_.x, 0, 2)};
    case Type::Box:
      return boxWire(2.0 * half_);
    case Type::Sphere:
      return sphereWire(half_.x);
    case Type::Cylinder:
      return cylinderWire(half_);
    case Type::Capsule:
      return capsuleWire(half_);
    case Type::Mesh:
      break;
  }
  if (!mesh_) return {};
  Wire edges = meshWire(*mesh_);
  for (std::vector<Vec3d>& edge : edges)
    for (Vec3d& point : edge) point *= meshScale_;
  return edges;
}

}  // namespace comet
