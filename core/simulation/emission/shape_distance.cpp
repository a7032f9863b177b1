#include "simulation/emission/shape_distance.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <stdexcept>

namespace comet {
namespace {

const Vec3d kUp(0, 1, 0);

ShapeDistance awayFrom(const Vec3d& nearest, const Vec3d& place) {
  const Vec3d away = place - nearest;
  const double distance = glm::length(away);
  return {distance, distance > 0 ? away / distance : kUp};
}

// The way out of a box, along the axis on which it is shortest.
ShapeDistance inBox(const Vec3d& place, const Vec3d& half) {
  const Vec3d left = half - glm::abs(place);
  const int axis = left.x <= left.y && left.x <= left.z ? 0 : left.y <= left.z ? 1 : 2;
  Vec3d away(0.0);
  away[axis] = place[axis] < 0 ? -1 : 1;
  return {-left[axis], away};
}

ShapeDistance fromBox(const Vec3d& place, const Vec3d& half) {
  const Vec3d nearest = glm::clamp(place, -half, half);
  return nearest == place ? inBox(place, half) : awayFrom(nearest, place);
}

}  // namespace

bool hasDistance(const Shape& shape) {
  return shape.type != ShapeType::Mesh && shape.type != ShapeType::Picture;
}

ShapeDistance shapeDistance(const Shape& shape, const Vec3d& place) {
  const Vec3d half = halfSize(shape);
  const auto hollow = [&](const ShapeDistance& filled) {
    return shape.surfaceOnly ? ShapeDistance{std::abs(filled.distance), filled.away} : filled;
  };
  const Vec3d flat(place.x, 0, place.z);
  const double across = glm::length(flat);
  switch (shape.type) {
    case ShapeType::Point:
      return awayFrom(Vec3d(0.0), place);
    case ShapeType::Line:
    case ShapeType::Rectangle:
      return awayFrom(glm::clamp(place, -half, half), place);
    case ShapeType::Ring:
      return awayFrom(across > 0 ? flat * (shape.radius / across) : Vec3d(shape.radius, 0, 0), place);
    case ShapeType::Disc:
      return awayFrom(across > shape.radius ? flat * (shape.radius / across) : flat, place);
    case ShapeType::Box:
      return hollow(fromBox(place, half));
    case ShapeType::Sphere: {
      const double distance = glm::length(place);
      return hollow({distance - shape.radius, distance > 0 ? place / distance : kUp});
    }
    case ShapeType::Mesh:
    case ShapeType::Picture:
      break;
  }
  throw std::logic_error("this shape has no distance");
}

Vec3d halfSize(const Shape& shape) {
  switch (shape.type) {
    case ShapeType::Line:
      return {0.5 * shape.extent.x, 0, 0};
    case ShapeType::Rectangle:
      return {0.5 * shape.extent.x, 0, 0.5 * shape.extent.z};
    case ShapeType::Ring:
    case ShapeType::Disc:
      return {shape.radius, 0, shape.radius};
    case ShapeType::Box:
      return 0.5 * shape.extent;
    case ShapeType::Sphere:
      return Vec3d(shape.radius);
    case ShapeType::Point:
    case ShapeType::Mesh:
    case ShapeType::Picture:
      break;
  }
  return Vec3d(0.0);
}

}  // namespace comet
