#include "simulation/influences/reach.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <glm/matrix.hpp>

namespace comet {
namespace {

Reach::Shape shapeOf(const Item& influence) {
  return influence.choiceAs<Reach::Shape>(
      "reach", std::array<std::string_view, 4>{"everywhere", "sphere", "box", "cylinder"});
}

}  // namespace

Reach::Reach(const Item& influence, double frame) : shape_(shapeOf(influence)) {
  if (isEverywhere()) return;
  pose_.position = influence.vector("reach_position", frame);
  pose_.rotation = rotationFromDegrees(influence.vector("reach_rotation", frame));
  const double radius = influence.number("reach_radius", frame);
  if (shape_ == Shape::Sphere) half_ = Vec3d(radius);
  if (shape_ == Shape::Box) half_ = 0.5 * influence.vector("reach_size", frame);
  if (shape_ == Shape::Cylinder) half_ = {radius, 0.5 * influence.number("reach_height", frame), radius};
  half_ = glm::max(half_, Vec3d(1e-9));
  soft_ = influence.number("reach_soft_edge", frame) / 100.0;
  insideOut_ = influence.flag("reach_invert", frame);
  const auto& edge = std::get<Curve>(influence.value("reach_falloff").base);
  edge_.fill([&edge](double x) { return static_cast<float>(std::max(0.0, edge.at(x))); });
}

float Reach::at(const Vec3d& position) const {
  if (isEverywhere()) return 1;
  const Vec3d own = pose_.toOwn(position) / half_;
  double out = 0;  // 0 at the centre, 1 at the edge
  switch (shape_) {
    case Shape::Everywhere:
      break;
    case Shape::Sphere:
      out = glm::length(own);
      break;
    case Shape::Box:
      out = std::max({std::abs(own.x), std::abs(own.y), std::abs(own.z)});
      break;
    case Shape::Cylinder:
      out = std::max(std::hypot(own.x, own.z), std::abs(own.y));
      break;
  }
  float inside = 0;
  if (out < 1 - soft_)
    inside = 1;
  else if (out < 1)
    inside = edge_.at((out - (1 - soft_)) / soft_);
  return insideOut_ ? std::max(0.0F, 1 - inside) : inside;
}

void Reach::describe(Hasher& hasher) const {
  hasher << static_cast<int>(shape_);
  if (isEverywhere()) return;
  hasher << insideOut_ << soft_;
  hasher.bytes(&pose_.position, sizeof pose_.position);
  hasher.bytes(&half_, sizeof half_);
  hasher.bytes(&pose_.rotation, sizeof pose_.rotation);
  hasher.bytes(&edge_, sizeof edge_);
}

Wire Reach::wire(double scale) const {
  switch (shape_) {
    case Shape::Everywhere:
      break;
    case Shape::Sphere:
      return sphereWire(scale * half_.x);
    case Shape::Box:
      return boxWire(2 * scale * half_);
    case Shape::Cylinder:
      return cylinderWire(scale * half_);
  }
  return {};
}

std::vector<ParamSpec> reachParams() {
  const std::initializer_list<std::string> bounded{"sphere", "box", "cylinder"};
  const Curve fade({{0, 1, Interpolation::Smooth}, {1, 0}});
  return {
      choice("reach", "Reach",
             {{"everywhere", "Everywhere", "It acts everywhere."},
              {"sphere", "Sphere", "It acts only within a sphere."},
              {"box", "Box", "It acts only within a box."},
              {"cylinder", "Cylinder", "It acts only within a cylinder."}})
          .in("Reach")
          .tip("Where the influence acts. The viewport draws it."),
      vector("reach_position", "Reach position", {0, 0, 0})
          .in("Reach")
          .unit("units")
          .range(-1e6, 1e6)
          .usual(-20, 20)
          .keyed()
          .when("reach", bounded)
          .tip("The centre of the reach."),
      vector("reach_rotation", "Reach rotation", {0, 0, 0})
          .in("Reach")
          .unit("°")
          .range(-36000, 36000)
          .usual(-180, 180)
          .keyed()
          .when("reach", {"box", "cylinder"})
          .tip("Rotates the reach about x, then y, then z."),
      number("reach_radius", "Reach radius", 2)
          .in("Reach")
          .unit("units")
          .range(0.001, 1e6)
          .usual(0.1, 20)
          .keyed()
          .when("reach", {"sphere", "cylinder"})
          .tip("The distance from the centre to the edge, beyond which nothing acts."),
      number("reach_height", "Reach height", 4)
          .in("Reach")
          .unit("units")
          .range(0.001, 1e6)
          .usual(0.1, 20)
          .keyed()
          .when("reach", {"cylinder"})
          .tip("The height of the cylinder from its bottom to its top."),
      vector("reach_size", "Reach size", {4, 4, 4})
          .in("Reach")
          .unit("units")
          .range(0.001, 1e6)
          .usual(0.1, 20)
          .keyed()
          .when("reach", {"box"})
          .tip("The full lengths of the box."),
      number("reach_soft_edge", "Soft edge", 25)
          .in("Reach")
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .keyed()
          .when("reach", bounded)
          .tip("How much of the distance from the edge to the centre the influence takes to reach its full "
               "strength. At 0 it begins abruptly at the edge."),
      curve("reach_falloff", "Falloff", fade)
          .in("Reach")
          .when("reach", bounded)
          .tip("The strength over the soft edge, from full on the left to the edge itself on the right."),
      flag("reach_invert", "Invert", false)
          .keyed()
          .in("Reach")
          .when("reach", bounded)
          .tip("The influence acts outside of the shape instead of inside."),
  };
}

}  // namespace comet
