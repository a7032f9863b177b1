#include "simulation/emission/shape.h"

#include "io/picture_content.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace comet {
namespace {

Vec3d onCircle(double number) {
  const double angle = 2 * kPi * number;
  return {std::cos(angle), 0, std::sin(angle)};
}

// Archimedes: equal slices of a sphere have equal area.
Vec3d onUnitSphere(double a, double b) {
  const double height = 2 * a - 1;
  return onCircle(b) * std::sqrt(std::max(0.0, 1 - height * height)) + Vec3d(0, height, 0);
}

// Chooses a pair of faces by its fraction of the area, then a point on one of the two.
ShapePoint onBoxSurface(const Vec3d& extent, const Vec3d& numbers) {
  const Vec3d areas(extent.y * extent.z, extent.x * extent.z, extent.x * extent.y);
  const double total = areas.x + areas.y + areas.z;
  if (total <= 0) return {(numbers - 0.5) * extent};
  double left = numbers.x * total;
  int axis = 0;
  while (axis < 2 && left >= areas[axis]) left -= areas[axis++];
  const double place = areas[axis] > 0 ? left / areas[axis] : 0;  // uniform again: first half is one face
  Vec3d point;
  point[axis] = place < 0.5 ? -0.5 : 0.5;
  point[(axis + 1) % 3] = numbers.y - 0.5;
  point[(axis + 2) % 3] = numbers.z - 0.5;
  Vec3d normal(0.0);
  normal[axis] = place < 0.5 ? -1 : 1;
  return {point * extent, normal};
}

ShapePoint onPicture(const Shape& shape, const Vec3d& numbers) {
  if (!shape.pictureSampler || shape.pictureSampler->isEmpty()) return {};
  const PictureSampler::Point point = shape.pictureSampler->pick(numbers);
  const double height = shape.pictureWidth * shape.pictureSampler->aspect();
  return {Vec3d((point.x - 0.5) * shape.pictureWidth, (0.5 - point.y) * height, 0), Vec3d(0, 0, 1),
          point.color};
}

MeshRegion regionOf(const Item& emitter, double frame) {
  static constexpr std::array<std::string_view, 5> kPlaces{"vertices", "edges", "surface", "inside",
                                                           "facing"};
  MeshRegion region;
  region.place = emitter.choiceAs<MeshPlace>("mesh_emit_from", kPlaces);
  if (region.place != MeshPlace::Inside) region.part = emitter.choice("mesh_part");
  region.facing = unitOr(emitter.vector("face_direction", frame), Vec3d(0, 1, 0));
  region.facingAngle = radians(emitter.number("max_face_angle", frame));
  return region;
}

constexpr std::array<std::string_view, 9> kTypes{"point", "line",   "ring", "disc",   "rectangle",
                                                 "box",   "sphere", "mesh", "picture"};

void setPicture(Shape& shape, const PictureContent& picture, const Item& emitter, double frame) {
  const auto weight =
      emitter.chooses("picture_emit_from", "opaque") ? PictureWeight::Opaque : PictureWeight::Bright;
  const double threshold = emitter.number("picture_threshold", frame) / 100.0;
  const int whole = static_cast<int>(std::ceil(frame));
  shape.pictureSampler = samplerOf(picture, whole, weight, threshold);
  shape.pictureKey = (Hasher() << picture.digest() << picture.indexAt(whole) << weight << threshold).digest();
}

}  // namespace

bool Shape::givesBirths() const {
  if (type == ShapeType::Mesh) return meshSampler && !meshSampler->isEmpty();
  if (type == ShapeType::Picture) return pictureSampler && !pictureSampler->isEmpty();
  return true;
}

Wire Shape::wire() const {
  switch (type) {
    case ShapeType::Point:
      break;
    case ShapeType::Line:
      return {{{-0.5 * extent.x, 0, 0}, {0.5 * extent.x, 0, 0}}};
    case ShapeType::Ring:
    case ShapeType::Disc:
      return {circleLine(radius, 0, 2)};
    case ShapeType::Rectangle:
      return boxWire({extent.x, 0, extent.z});
    case ShapeType::Box:
      return boxWire(extent);
    case ShapeType::Sphere:
      return sphereWire(radius);
    case ShapeType::Mesh:
      return mesh ? meshWire(*mesh) : Wire();
    case ShapeType::Picture:
      if (pictureSampler) return boxWire({pictureWidth, pictureWidth * pictureSampler->aspect(), 0});
      break;
  }
  return {};
}

void Shape::describe(Hasher& hasher) const {
  hasher << type << surfaceOnly << extent.x << extent.y << extent.z << radius;
  if (type == ShapeType::Mesh && mesh) {
    hasher << mesh->digest() << region.place << region.part;
    if (region.place == MeshPlace::Facing)
      hasher << region.facing.x << region.facing.y << region.facing.z << region.facingAngle;
  }
  if (pictureSampler) hasher << pictureWidth << pictureKey;
}

Shape shapeOf(const Item& emitter, double frame) {
  Shape shape;
  shape.type = emitter.choiceAs<ShapeType>("shape", kTypes);
  shape.surfaceOnly = emitter.chooses("emit_from", "surface");
  shape.extent = emitter.vector("extent", frame);
  shape.radius = emitter.number("radius", frame);
  if (shape.type == ShapeType::Mesh) {
    shape.mesh = emitter.content<MeshContent>("mesh");
    shape.region = regionOf(emitter, frame);
    if (shape.mesh) shape.meshSampler = shape.mesh->sampler(shape.region);
  }
  if (shape.type == ShapeType::Picture) {
    shape.pictureWidth = emitter.number("picture_width", frame);
    if (const auto picture = emitter.content<PictureContent>("birth_picture"))
      setPicture(shape, *picture, emitter, frame);
  }
  return shape;
}

std::string problemWithShape(const Item& emitter, double frame) {
  const Shape shape = shapeOf(emitter, frame);
  if (shape.givesBirths()) return {};
  if (shape.type == ShapeType::Picture)
    return shape.pictureSampler ? "no part of the picture is above the threshold: lower it"
                                : "there is no picture: choose one";
  if (!shape.mesh) return "there is no mesh: choose one";
  switch (shape.region.place) {
    case MeshPlace::Inside:
      return "the mesh is not closed, so it has no inside: choose Surface";
    case MeshPlace::Vertices:
      return "the mesh has no part of that name";
    case MeshPlace::Facing:
      return "no face points in that direction: raise the max angle";
    case MeshPlace::Edges:
    case MeshPlace::Surface:
      break;
  }
  return shape.region.part.empty() ? "the mesh has no faces: choose Vertices"
                                   : "the mesh has no part of that name";
}

ShapePoint pointOnSimpleShape(const Shape& shape, const Vec3d& numbers) {
  switch (shape.type) {
    case ShapeType::Point:
    case ShapeType::Mesh:
      return {};
    case ShapeType::Line:
      return {{(numbers.x - 0.5) * shape.extent.x, 0, 0}};
    case ShapeType::Ring:
      return {onCircle(numbers.x) * shape.radius};
    case ShapeType::Disc:
      return {onCircle(numbers.x) * (shape.radius * std::sqrt(numbers.y))};
    case ShapeType::Rectangle:
      return {{(numbers.x - 0.5) * shape.extent.x, 0, (numbers.y - 0.5) * shape.extent.z}};
    case ShapeType::Box: {
      if (shape.surfaceOnly) return onBoxSurface(shape.extent, numbers);
      const Vec3d at = (numbers - 0.5) * shape.extent;
      return {at, unitOr(at, Vec3d(0, 1, 0))};
    }
    case ShapeType::Sphere: {
      const double distance = shape.surfaceOnly ? 1.0 : std::cbrt(numbers.z);
      const Vec3d normal = onUnitSphere(numbers.x, numbers.y);
      return {normal * (shape.radius * distance), normal};
    }
    case ShapeType::Picture:
      return onPicture(shape, numbers);
  }
  return {};
}

}  // namespace comet
