#include "viewport/view_camera.h"

#include "render/effect_box.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

constexpr double kRadiansPerPixel = 0.008;
constexpr double kNearestAim = 0.05;

double distanceOf(const Camera& camera) {
  return std::max(kNearestAim, glm::length(camera.place - camera.aim));
}

}  // namespace

Camera ViewCamera::camera(const Scene& scene, double frame) const {
  return kind_ == ViewKind::Camera ? cameraOf(scene, frame) : own_;
}

void ViewCamera::makeFree(const Camera& now) {
  if (kind_ != ViewKind::Camera) return;
  own_ = now;
  kind_ = ViewKind::Free;
}

void ViewCamera::look(ViewKind kind, const Camera& now) {
  own_ = now;
  kind_ = kind;
  if (kind == ViewKind::Camera || kind == ViewKind::Free) return;
  own_.height = now.heightAtAim();
  own_.projection = Camera::Projection::Orthographic;
  const Vec3d direction = kind == ViewKind::Front  ? Vec3d(0, 0, 1)
                          : kind == ViewKind::Side ? Vec3d(1, 0, 0)
                                                   : Vec3d(0, 1, 0);
  own_.place = own_.aim + direction * std::max(10.0, 4 * own_.height);
}

void ViewCamera::orbit(const QPointF& pixels, const Camera& now) {
  makeFree(now);
  const Vec3d offset = own_.place - own_.aim;
  const double distance = distanceOf(own_);
  // At the poles the direction has no turn about y; the frame's right says which way it faces.
  const Vec3d right = own_.frame().right;
  double turn = std::atan2(right.z, right.x) * -1;
  double lift = std::asin(std::clamp(offset.y / distance, -1.0, 1.0));
  turn -= pixels.x() * kRadiansPerPixel;
  lift = std::clamp(lift + pixels.y() * kRadiansPerPixel, radians(-89), radians(89));
  own_.place = own_.aim + distance * Vec3d(std::sin(turn) * std::cos(lift), std::sin(lift),
                                           std::cos(turn) * std::cos(lift));
  kind_ = ViewKind::Free;
}

void ViewCamera::pan(const QPointF& pixels, int height, const Camera& now) {
  makeFree(now);
  const double unitsPerPixel = own_.heightAtAim() / std::max(1, height);
  const Camera::Frame frame = own_.frame();
  const Vec3d shift = (frame.up * pixels.y() - frame.right * pixels.x()) * unitsPerPixel;
  own_.place += shift;
  own_.aim += shift;
}

void ViewCamera::zoom(double factor, const Camera& now) {
  makeFree(now);
  own_.height = std::clamp(own_.height / factor, 1e-3, 1e6);
  own_.place = own_.aim + (own_.place - own_.aim) / factor;
}

void ViewCamera::fit(const Box& box, double aspect, const Camera& now) {
  makeFree(now);
  own_ = fittedTo(box, own_, aspect);
}

}  // namespace comet
