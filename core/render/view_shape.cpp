#include "render/view_shape.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <string>

namespace comet {
namespace {

void setConstant(Item& item, std::string_view param, Value value) {
  ParamValue& changed = item.values[item.kind->indexOf(param)];
  changed.keys.clear();
  changed.formula.clear();
  changed.base = std::move(value);
}

double degrees(double angle) {
  // Digits that only rounding has made are left out.
  return std::round(angle * (180 / kPi) * 1e6) / 1e6;
}

// The reverse of rotationFromDegrees. Where x and z turn about the same axis, x does all of it.
Vec3d degreesOf(const Mat3d& rotation) {
  const double sine = std::clamp(-rotation[0].z, -1.0, 1.0);
  if (std::abs(sine) > 1 - 1e-12)
    return {degrees(std::atan2(-rotation[2].y, rotation[1].y)), degrees(std::asin(sine)), 0};
  return {degrees(std::atan2(rotation[1].z, rotation[2].z)), degrees(std::asin(sine)),
          degrees(std::atan2(rotation[0].y, rotation[0].x))};
}

}  // namespace

Item withShapeFacing(Item emitter, const Camera& camera) {
  const Camera::Frame axes = camera.frame();
  // Most flat shapes lie in the plane of x and z, pictures in that of x and y.
  const bool isUpright = emitter.chooses("shape", "picture") || emitter.chooses("shape", "box");
  const Mat3d rotation =
      isUpright ? Mat3d(axes.right, axes.up, -axes.forward) : Mat3d(axes.right, -axes.forward, -axes.up);
  setConstant(emitter, "rotation", degreesOf(rotation));
  return emitter;
}

Item withShapeFilling(Item emitter, const Camera& camera, double aspect, double frame) {
  const Camera::Frame axes = camera.frame();
  const double toAim = glm::length(camera.aim - camera.place);
  const double ahead = glm::dot(emitter.vector("position", frame) - camera.place, axes.forward);
  const double distance = ahead > 0 ? ahead : toAim;
  const double height = camera.projection == Camera::Projection::Orthographic
                            ? camera.height
                            : 2 * distance * std::tan(0.5 * radians(camera.fieldOfView));
  setConstant(emitter, "shape", std::string("rectangle"));
  setConstant(emitter, "extent", Vec3d(height * aspect, emitter.vector("extent", frame).y, height));
  setConstant(emitter, "position", camera.place + axes.forward * distance);
  setConstant(emitter, "scale", Vec3d(1.0));
  return withShapeFacing(std::move(emitter), camera);
}

}  // namespace comet
