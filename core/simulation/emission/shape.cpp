#include "simulation/emission/shape.h"

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

// Chooses a pair of faces by its share of the area, then a point on one of the two.
Vec3d onBoxSurface(const Vec3d& extent, const Vec3d& numbers) {
  const Vec3d areas(extent.y * extent.z, extent.x * extent.z, extent.x * extent.y);
  const double total = areas.x + areas.y + areas.z;
  if (total <= 0) return (numbers - 0.5) * extent;
  double left = numbers.x * total;
  int axis = 0;
  while (axis < 2 && left >= areas[axis]) left -= areas[axis++];
  const double place = areas[axis] > 0 ? left / areas[axis] : 0;  // uniform again: first half is one face
  Vec3d point;
  point[axis] = place < 0.5 ? -0.5 : 0.5;
  point[(axis + 1) % 3] = numbers.y - 0.5;
  point[(axis + 2) % 3] = numbers.z - 0.5;
  return point * extent;
}

}  // namespace

void Shape::describe(Hasher& hasher) const {
  hasher << type << surfaceOnly << extent.x << extent.y << extent.z << radius;
}

Shape shapeOf(const Item& emitter, double frame) {
  static constexpr std::array<std::string_view, 7> kNames{"point",     "line", "ring",  "disc",
                                                          "rectangle", "box",  "sphere"};
  const auto* name = std::find(kNames.begin(), kNames.end(), emitter.choice("shape"));
  Shape shape;
  shape.type = static_cast<ShapeType>(name - kNames.begin());
  shape.surfaceOnly = emitter.chooses("births_on", "surface");
  shape.extent = emitter.vector("extent", frame);
  shape.radius = emitter.number("radius", frame);
  return shape;
}

Vec3d pointOn(const Shape& shape, const Vec3d& numbers) {
  switch (shape.type) {
    case ShapeType::Point:
      return Vec3d(0.0);
    case ShapeType::Line:
      return {(numbers.x - 0.5) * shape.extent.x, 0, 0};
    case ShapeType::Ring:
      return onCircle(numbers.x) * shape.radius;
    case ShapeType::Disc:
      return onCircle(numbers.x) * (shape.radius * std::sqrt(numbers.y));
    case ShapeType::Rectangle:
      return {(numbers.x - 0.5) * shape.extent.x, 0, (numbers.y - 0.5) * shape.extent.z};
    case ShapeType::Box:
      return shape.surfaceOnly ? onBoxSurface(shape.extent, numbers) : (numbers - 0.5) * shape.extent;
    case ShapeType::Sphere: {
      const double distance = shape.surfaceOnly ? 1.0 : std::cbrt(numbers.z);
      return onUnitSphere(numbers.x, numbers.y) * (shape.radius * distance);
    }
  }
  return Vec3d(0.0);
}

}  // namespace comet
