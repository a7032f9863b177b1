#include "render/view_shape.h"

#include "scene/item_edit.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <string>

namespace comet {
namespace {

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

Scene withShapeFacing(const Scene& scene, ItemId emitter, const Camera& camera) {
  const Camera::Frame axes = camera.frame();
  const Scene::ItemPtr item = scene.find(emitter);
  // Most flat shapes lie in the plane of x and z, pictures in that of x and y.
  const bool isUpright = item->chooses("shape", "picture") || item->chooses("shape", "box");
  const Mat3d rotation =
      isUpright ? Mat3d(axes.right, axes.up, -axes.forward) : Mat3d(axes.right, -axes.forward, -axes.up);
  return withBase(scene, emitter, "rotation", degreesOf(rotation));
}

Scene withShapeFilling(const Scene& scene, ItemId emitter, const Camera& camera, double aspect,
                       double frame) {
  const Scene::ItemPtr item = scene.find(emitter);
  const Vec3d forward = camera.frame().forward;
  const double ahead = glm::dot(item->vector("position", frame) - camera.place, forward);
  Camera there = camera;
  if (ahead > 0) there.aim = camera.place + forward * ahead;
  const double height = there.heightAtAim();
  Scene filled = withBase(scene, emitter, "shape", std::string("rectangle"));
  filled =
      withBase(filled, emitter, "extent", Vec3d(height * aspect, item->vector("extent", frame).y, height));
  filled = withBase(filled, emitter, "position", there.aim);
  filled = withBase(filled, emitter, "scale", Vec3d(1.0));
  return withShapeFacing(filled, emitter, camera);
}

}  // namespace comet
