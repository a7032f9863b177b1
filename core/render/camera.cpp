#include "render/camera.h"

#include "render/backdrop.h"
#include "render/finish.h"

#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

constexpr double kFilmHeight = 24;  // mm

double fieldOfViewOf(double focalLength) {
  return 2 * std::atan(0.5 * kFilmHeight / focalLength) * (180 / kPi);
}

double focalLengthOf(double fieldOfView) { return 0.5 * kFilmHeight / std::tan(0.5 * radians(fieldOfView)); }

}  // namespace

std::vector<ParamSpec> viewParams(Affects affected) {
  std::vector<ParamSpec> params{
      choice("projection", "Projection",
             {{"perspective", "Perspective", "Distant things are smaller."},
              {"orthographic", "Orthographic", "Things have the same size at any distance."}})
          .in("View")
          .tip("How depth appears in the picture."),
      vector("position", "Position", {0, 2, 10})
          .in("View")
          .unit("units")
          .range(-1e6, 1e6)
          .usual(-20, 20)
          .keyed()
          .tip("The position of the camera."),
      vector("aim", "Look at", {0, 2, 0})
          .in("View")
          .unit("units")
          .range(-1e6, 1e6)
          .usual(-20, 20)
          .keyed()
          .tip("The point in the middle of the picture."),
      choice("lens_mode", "Lens",
             {{"angle", "Angle", "The angle from the picture's bottom to its top."},
              {"focal", "Focal length", "A focal length, for a film of 36 × 24 mm."}})
          .in("View")
          .when("projection", {"perspective"})
          .tip("How the field of view is given."),
      number("field_of_view", "Field of view", 40)
          .in("View")
          .unit("°")
          .range(1, 150)
          .usual(10, 90)
          .keyed()
          .when("projection", {"perspective"})
          .when("lens_mode", {"angle"})
          .tip("The angle from the picture's bottom to its top."),
      number("focal_length", "Focal length", 35)
          .in("View")
          .unit("mm")
          .range(3, 2000)
          .usual(12, 200)
          .keyed()
          .when("projection", {"perspective"})
          .when("lens_mode", {"focal"})
          .tip("The focal length for a picture 24 mm high: short lenses take in much, long ones bring "
               "distant things near."),
      number("height", "Height", 6)
          .in("View")
          .unit("units")
          .range(0.001, 1e6)
          .usual(1, 20)
          .keyed()
          .when("projection", {"orthographic"})
          .tip("How much of the scene fits between the picture's bottom and its top."),
  };
  for (ParamSpec& spec : params) spec.affects(affected);
  return params;
}

const KindSpec& cameraKind() {
  static const KindSpec kind("camera", "Camera", ItemFamily::Camera, "The view of bakes and pictures.", [] {
    std::vector<ParamSpec> params = viewParams(Affects::View);
    for (auto&& part : {finishParams(Affects::View), backdropParams()})
      params.insert(params.end(), part.begin(), part.end());
    return params;
  }());
  return kind;
}

Camera::Frame Camera::frame() const {
  const Vec3d forward = unitOr(aim - place, Vec3d(0, 0, -1));
  // Looking straight up or down, "up" is where the picture would have been before tilting.
  const Vec3d side = glm::cross(forward, Vec3d(0, 1, 0));
  const Vec3d right = unitOr(side, Vec3d(1, 0, 0));
  return {right, glm::cross(right, forward), forward};
}

double Camera::heightAtAim() const {
  constexpr double kNearestAim = 0.05;
  return projection == Projection::Orthographic
             ? height
             : 2 * std::max(kNearestAim, glm::length(place - aim)) * std::tan(0.5 * radians(fieldOfView));
}

Camera viewOf(const Item& item, double frame) {
  Camera camera;
  camera.projection = item.chooses("projection", "orthographic") ? Camera::Projection::Orthographic
                                                                 : Camera::Projection::Perspective;
  camera.place = item.vector("position", frame);
  camera.aim = item.vector("aim", frame);
  camera.fieldOfView = item.chooses("lens_mode", "focal") ? fieldOfViewOf(item.number("focal_length", frame))
                                                          : item.number("field_of_view", frame);
  camera.height = item.number("height", frame);
  return camera;
}

Item withView(Item item, const Camera& camera) {
  const auto set = [&item](std::string_view param, Value value) {
    const std::size_t index = item.kind->indexOf(param);
    ParamValue changed;
    changed.base = std::move(value);
    item.values[index] = nearestValid(item.kind->params()[index], std::move(changed));
  };
  const bool orthographic = camera.projection == Camera::Projection::Orthographic;
  set("projection", std::string(orthographic ? "orthographic" : "perspective"));
  set("position", camera.place);
  set("aim", camera.aim);
  if (item.chooses("lens_mode", "focal"))
    set("focal_length", focalLengthOf(camera.fieldOfView));
  else
    set("field_of_view", camera.fieldOfView);
  set("height", camera.height);
  return item;
}

Camera cameraOf(const Scene& scene, double frame) { return viewOf(scene.camera(), frame); }

Scene withCamera(const Scene& scene, const Camera& camera) {
  return scene.withReplaced(withView(scene.camera(), camera));
}

Projector::Projector(const Camera& camera, int width, int height, std::optional<ClipPlane> clip)
    : frame_(camera.frame()),
      place_(camera.place),
      perspective_(camera.projection == Camera::Projection::Perspective),
      scale_(perspective_ ? 0.5 * height / std::tan(0.5 * radians(camera.fieldOfView))
                          : height / camera.height),
      centreX_(0.5 * width),
      centreY_(0.5 * height),
      clip_(clip) {}

Projector::Point Projector::project(const Vec3d& point) const {
  const Vec3d offset = point - place_;
  const double depth = glm::dot(offset, frame_.forward);
  const double pixels = perspective_ ? scale_ / std::max(depth, kNearest) : scale_;
  return {centreX_ + glm::dot(offset, frame_.right) * pixels, centreY_ - glm::dot(offset, frame_.up) * pixels,
          depth, pixels};
}

Vec2d Projector::directionInPicture(const Vec3d& direction) const {
  return {glm::dot(direction, frame_.right), -glm::dot(direction, frame_.up)};
}

void Projector::ray(double x, double y, Vec3d& origin, Vec3d& direction) const {
  const Vec3d across = frame_.right * ((x - centreX_) / scale_) + frame_.up * ((centreY_ - y) / scale_);
  if (perspective_) {
    origin = place_;
    direction = glm::normalize(frame_.forward + across);
  } else {
    origin = place_ + across;
    direction = frame_.forward;
  }
}

}  // namespace comet
